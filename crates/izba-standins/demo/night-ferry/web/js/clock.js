// The clock above the timetable.
const clock = {
  element: null,
  show() {
    this.element = document.getElementById("clock");
    this.element.textContent = "It is night.";
    console.log("clock is shown");
  },
};

window.addEventListener("load", () => clock.show());
