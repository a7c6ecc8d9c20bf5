// Where the boats are moored, once the page is there.
import { moorings, describe } from "./mooring-list.js";

window.addEventListener("load", () => {
  const words = [];
  for (let place = 0; place <= moorings.length; place++) {
    words.push(describe(moorings[place]));
  }
  console.log("moorings: " + words.join(", "));
});
