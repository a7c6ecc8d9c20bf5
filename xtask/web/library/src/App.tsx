import { useEffect, useState } from 'react';
import { Counter } from './Counter';
import { Receipt } from './Receipt';
import { Timetable } from './Timetable';
import { BOATS, type Order } from './model';
import { useClock } from './useClock';

export function App() {
  const [chosen, setChosen] = useState(BOATS[0].name);
  const [orders, setOrders] = useState<Order[]>([]);
  const now = useClock(1000);

  function take(order: Order) {
    setOrders((before) => [...before, order]);
  }

  useEffect(() => {
    const timer = setTimeout(() => document.getElementById('send')?.click(), 400);
    return () => clearTimeout(timer);
  }, []);

  return (
    <main>
      <h1>Counter, {now.getHours()} o'clock</h1>
      <Timetable boats={BOATS} chosen={chosen} onChoose={setChosen} />
      <Counter boats={BOATS} boat={chosen} onOrder={take} />
      <Receipt orders={orders} />
    </main>
  );
}
