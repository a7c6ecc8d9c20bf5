-- Reeds bend with the wind.
local Reeds = {}

function Reeds:begin()
  self.bend = 0
end

function Reeds:tick(dt)
  if self.bend < 1 then
    self.bend = self.bend + dt
  end
  end
end

function Reeds:rest()
  self.bend = 0
end

return Reeds
