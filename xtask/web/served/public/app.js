// The page of the ticket office.
import { boats, buy, tide } from './office.js';

const list = document.getElementById('boats');
const receipt = document.getElementById('receipt');

function line(boat) {
  const item = document.createElement('li');
  item.textContent = `${boat.name}: ${boat.seats - boat.sold} free, ${boat.price.adult} each`;
  return item;
}

async function show() {
  const all = await boats();
  list.replaceChildren(...all.map(line));
  return all;
}

async function buyTwo() {
  const all = await show();
  const ticket = await buy(all[0].name, 2);
  receipt.textContent = `Ticket ${ticket.number}: ${ticket.price.toFixed(2)}`;
}

document.getElementById('buy').addEventListener('click', buyTwo);

const water = await tide();
document.getElementById('tide').textContent = water.rising ? 'rising' : 'falling';
await show();
setTimeout(() => document.getElementById('buy').click(), 300);
