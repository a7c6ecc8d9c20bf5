// A boat for every two hands of the crew.
import { crews } from "./crews.js";

export const boats = Math.floor(crews / 2);
