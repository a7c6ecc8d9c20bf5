local Berth = {}
Berth.__index = Berth

function Berth.new(number, depth)
  local self = setmetatable({}, Berth)
  self.number = number
  self.depth = depth
  self.moored = {}
  return self
end

function Berth:free()
  return #self.moored == 0
end

function Berth:moor(boat)
  table.insert(self.moored, boat)
end

function Berth:toll(tolls)
  local sum = 0
  for _, boat in ipairs(self.moored) do
    sum = sum + tolls[boat.kind] * boat.length
  end
  return sum
end

return Berth
