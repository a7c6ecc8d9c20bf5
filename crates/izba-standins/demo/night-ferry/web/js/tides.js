// High and low water, from the data of the harbour.
function showTide(tides) {
  const high = tides.today.high;
  document.getElementById("tide").textContent = "high water at " + high;
  console.log("high water at " + high);
}

fetch("data/tides.json")
  .then((answer) => answer.json())
  .then(showTide);
