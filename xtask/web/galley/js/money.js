// Prices, with what is taken off for some kinds of dishes.
function discountOf(dish) {
  const { discounts } = Store.evening;
  const all = dish.tags.map((tag) => discounts[tag] ?? 0);
  return Math.max(...all);
}

function priceOf(dish, plates) {
  const whole = Math.floor(plates);
  const price = whole * dish.price.full + (plates > whole ? dish.price.half : 0);
  return price * (1 - discountOf(dish));
}

function asMoney(amount) {
  return `${amount.toFixed(2)} cr`;
}
