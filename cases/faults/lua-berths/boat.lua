local Boat = {}
Boat.__index = Boat

local KINDS = {
  { upto = 6, kind = "skiff" },
  { upto = 12, kind = "cutter" },
  { upto = 99, kind = "barge" },
}

function Boat.new(name, length, crew)
  local self = setmetatable({}, Boat)
  self.name = name
  self.length = length
  self.crew = crew
  self.kind = Boat.sort(length)
  return self
end

function Boat.sort(length)
  for _, row in ipairs(KINDS) do
    if length <= row.upto then
      return row.kind
    end
  end
end

function Boat:settle(number)
  self.berth = number
  print(self.name .. " lies at " .. number .. " with " .. #self.crew .. " aboard")
end

function Boat:describe()
  return self.kind .. " " .. self.name
end

return Boat
