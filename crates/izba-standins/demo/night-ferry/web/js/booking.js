// Books a crossing when the button is clicked.
function book() {
  console.log("a crossing is booked");
}

window.addEventListener("load", () => {
  const button = document.getElementById("book");
  button.addEventListener("click", book);
});
