// The list of moorings.
export const moorings = [
  { name: "Willow", depth: 1.2 },
  { name: "Post", depth: 0.8 },
];

export function describe(mooring) {
  return mooring.name + " (" + mooring.depth + " m)";
}
