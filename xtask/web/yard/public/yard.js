// The page of the yard.
import * as api from './api.js';
import { hear, tell } from './bus.js';

class JobTable {
  constructor(body) {
    this.body = body;
    this.rows = new Map();
  }

  add(job) {
    const row = this.body.insertRow();
    row.insertCell().textContent = job.ferry;
    row.insertCell().textContent = job.cost.toFixed(2);
    if (job.cost > 200) {
      row.classList.add('costly');
    }
    this.rows.set(job.id, row);
    return row;
  }

  mark(id) {
    this.rows.get(id).classList.add('fresh');
  }
}

const table = new JobTable(document.getElementById('jobs'));
const last = document.getElementById('last');
const form = document.querySelector('#new-job');

hear('opened', (job) => {
  table.add(job);
  last.textContent = `${job.ferry}: ${job.waiting} waiting, ${job.cost.toFixed(0)} marks`;
});

async function submit(event) {
  event.preventDefault();
  const fields = new FormData(form);
  const job = await api.open(fields.get('ferry'), fields.get('work'), Number(fields.get('hours')));
  tell('opened', job);
  table.mark(job.id);
}

form.addEventListener('submit', submit);

const { load, free } = await api.crane(5);
document.getElementById('crane').value = free ? `crane free for ${load.toFixed(1)} t` : 'crane taken';
for (const job of await api.jobs()) {
  table.add(job);
}
setTimeout(() => form.requestSubmit(), 300);
