export function clamp(value, low, high) {
  return Math.min(Math.max(value, low), high);
}

export function mean(values) {
  let sum = 0;
  for (const value of values) {
    sum += value;
  }
  return values.length > 0 ? sum / values.length : 0;
}
