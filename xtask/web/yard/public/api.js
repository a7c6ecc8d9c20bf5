// What the yard answers.
async function call(verb, address, body) {
  const init = { method: verb, headers: { accept: 'application/json' } };
  if (body) {
    init.body = JSON.stringify(body);
  }
  const response = await fetch(address, init);
  if (!response.ok) {
    throw new Error(`the yard says ${response.status} to ${verb} ${address}`);
  }
  return response.json();
}

export const jobs = () => call('GET', '/jobs');
export const open = (ferry, work, hours) => call('POST', '/jobs', { ferry, work, hours });
export const done = (id) => call('POST', '/jobs/done', { id });
export const crane = (tons) => call('GET', `/crane?tons=${tons}`);
