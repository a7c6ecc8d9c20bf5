// Counts the minutes to the next boat, beside the page.
let minutes = 12;

function tick() {
  minutes = minutes > 0 ? minutes - 1 : 12;
  postMessage({ minutes: minutes });
}

onmessage = (event) => {
  minutes = event.data.from;
  setInterval(tick, 200);
};
