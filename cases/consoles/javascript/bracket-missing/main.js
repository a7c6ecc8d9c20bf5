function banks() {
  const names = ['near', 'far';
  return names;
}

console.log(banks());
