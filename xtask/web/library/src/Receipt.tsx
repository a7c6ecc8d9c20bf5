import type { Order } from './model';

interface Props {
  orders: Order[];
}

function lineOf(order: Order): string {
  const people = order.adults + order.children;
  return `${order.boat.toUpperCase()}: ${people} people`;
}

export function Receipt({ orders }: Props) {
  if (orders.length === 0) {
    return <p>No orders yet</p>;
  }
  return (
    <ol>
      {orders.map((order, at) => (
        <li key={at}>{lineOf(order)}</li>
      ))}
    </ol>
  );
}
