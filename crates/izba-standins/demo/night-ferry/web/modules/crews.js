// Every berth has a crew of three.
import { berths } from "./berths.js";

export const crews = berths * 3;
