// Distances and limits on the marsh.
export const distance = (a, b) => Math.hypot(a.x - b.x, a.y - b.y);

export function within(place, limits) {
  return {
    x: Math.min(Math.max(place.x, 0), limits.width),
    y: Math.min(Math.max(place.y, 0), limits.height),
  };
}
