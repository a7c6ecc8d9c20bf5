// Asks the ticket app on the phone for the next ticket.
let number = 2;

async function nextTicket() {
  number = number + 1;
  const answer = await fetch(ticketService + "/tickets/next?number=" + number);
  const text = await answer.text();
  if (!answer.ok) {
    throw new Error("no ticket " + number + " from the phone: " + text);
  }
  console.log(text);
}

window.addEventListener("load", () => {
  document.getElementById("next").addEventListener("click", nextTicket);
});
