// A berth for every boat, and one to spare.
import { boats } from "./boats.js";

export const berths = boats + 1;
