-- The moon rises behind the far bank.
local Moon = {}

local CLIMB = 0.05

function Moon:tick(dt)
  if self.y > 20 then
    self.y = self.y - CLIMB * dt
  end
end

return Moon
