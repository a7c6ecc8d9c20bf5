-- The lamp at the jetty is lit after dark.
local Lamp = {}

function Lamp:begin()
  self.dusk = 0
end

function Lamp:tick(dt)
  self.dusk = self.dusk + dt
  if self.dusk > 2 then
    self.visble = true
  end
end

return Lamp
