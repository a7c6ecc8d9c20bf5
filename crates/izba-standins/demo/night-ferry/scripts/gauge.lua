-- The tide gauge on the jetty: it names the mark that the water reaches.
local Gauge = {}

local MARKS = { "stone", "rope", "ring", "plank", "rail" }

local STEP = 0.36

function Gauge:begin()
  self.wait = 1.5
end

function Gauge:tick(dt)
  self.wait = self.wait - dt
  if self.wait <= 0 then
    self.wait = 1.5
    self:read(find("TideClock").height)
  end
end

function Gauge:read(height)
  local mark = MARKS[math.floor(height / STEP) + 1]
  self.sign = "water at the " .. mark
end

return Gauge
