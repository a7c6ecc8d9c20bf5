// The departures of this evening.
const departures = [
  { to: "North Bank", at: "20:10" },
  { to: "Reedmouth", at: "20:40" },
  { to: "The Old Mill", at: "21:15" },
];

function fillBoard() {
  const board = document.getElementById("board");
  departures.foreach((departure) => {
    const row = document.createElement("tr");
    row.textContent = departure.at + " " + departure.to;
    board.append(row);
  });
  console.log("departures=" + departures.length);
}

window.addEventListener("load", fillBoard);
