-- Knots and what they hold.
local Knots = {}

Knots.bowline = 40
Knots.hitch = 25

function Knots.holds(name, weight)
  return Knots[name] >= weight
end

return Knots
