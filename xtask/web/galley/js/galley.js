// Puts the page together: fills the list of dishes, cooks what was ordered before.
const form = document.getElementById('order');
const stove = new Stove(document.getElementById('stove'));

function fillDishes(select) {
  for (const dish of Store.dishes) {
    const option = document.createElement('option');
    option.value = dish.id;
    option.textContent = `${dish.name}, ${asMoney(dish.price.full)}`;
    select.append(option);
  }
}

function order(guest, id, plates) {
  const dish = Store.dish(id);
  bill.add(guest, dish, plates);
  stove.cook(dish);
}

function minutesUntil(clock) {
  const [hours, minutes] = clock.split(':').map(Number);
  const opens = new Date();
  opens.setHours(hours, minutes, 0);
  return Math.round((opens - Date.now()) / 60000);
}

form.addEventListener('submit', (event) => {
  event.preventDefault();
  const fields = new FormData(form);
  order('you', fields.get('dish'), Number(fields.get('plates')));
});

async function begin() {
  await Store.load();
  fillDishes(form.elements.dish);
  for (const guest of Store.evening.guests) {
    order(guest.name, guest.dish, guest.plates);
  }
  const first = bill.byGuest().get('Ada Reed').toFixed(2);
  console.log(`Ada owes ${first}, opens in ${minutesUntil(Store.evening.opens)} min, visit ${Store.see()}`);
  setTimeout(() => form.requestSubmit(), 500);
}

begin();
