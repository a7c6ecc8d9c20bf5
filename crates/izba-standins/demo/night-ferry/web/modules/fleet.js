// The whole fleet, for the footer of the page.
import { boats } from "./boats.js";
import { berths } from "./berths.js";

console.log("the fleet has " + boats + " boats at " + berths + " berths");
