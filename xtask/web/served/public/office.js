// Asks the ticket office.
async function ask(address, options) {
  const answer = await fetch(address, options);
  if (!answer.ok) {
    throw new Error(`${address} answers ${answer.status}`);
  }
  return answer.json();
}

export function boats() {
  return ask('/api/boats');
}

export function tide() {
  return ask('/api/tide');
}

export function buy(boat, seats) {
  return ask('/api/tickets', {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ boat: boat, seats: seats }),
  });
}
