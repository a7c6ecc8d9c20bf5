local Bell = {}
Bell.__index = Bell

local function pitch(weight)
  return 900 - weight * 20
end

function Bell.new(name, weight)
  local self = setmetatable({}, Bell)
  self.name = name
  self.weight = weight
  self.pitch = pitch(weight)
  self.swings = 0
  return self
end

function Bell:swing(turn)
  self.swings = self.swings + 1
  self.last = turn
end

function Bell:sound()
  if self.pitch > 600 then
    return "ting" .. self.last
  end
  return "dong" .. self.last
end

return Bell
