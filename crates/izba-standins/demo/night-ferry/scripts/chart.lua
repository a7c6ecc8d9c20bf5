-- The chart marks where the lighthouse stands.
local Chart = {}

local function bearing(from, to)
  return math.atan(to.y - from.y, to.x - from.x)
end

function Chart:plot()
  local ferry = find("Ferry")
  local house = find("Lighthouse")
  self.course = bearing(ferry, house)
  print(string.format("course %.2f", self.course))
end

return Chart
