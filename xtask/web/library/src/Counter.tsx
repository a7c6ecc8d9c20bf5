import { useState } from 'react';
import { costOf, type Boat, type Order } from './model';

interface Props {
  boats: Boat[];
  boat: string;
  onOrder: (order: Order) => void;
}

export function Counter({ boats, boat, onOrder }: Props) {
  const [adults, setAdults] = useState(1);
  const [children, setChildren] = useState(0);
  const order: Order = { boat, adults, children };
  const cost = costOf(order, boats);

  function send() {
    onOrder(order);
    setAdults(1);
    setChildren(0);
  }

  return (
    <form>
      <button type="button" onClick={() => setAdults(adults + 1)}>
        {adults} adults
      </button>
      <p>{cost.toFixed(2)} marks</p>
      <button type="button" id="send" onClick={send}>
        Order
      </button>
    </form>
  );
}
