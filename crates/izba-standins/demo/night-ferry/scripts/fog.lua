-- Fog drifts over the marsh and hides the lanterns.
local Fog = {}

function Fog:begin()
  self.drift = 0
end

function Fog:tick(dt)
  self.drift = self.drift + dt * 0.1
  if self.drift > self.depth then
    self.drift = 0
end

-- How much of a light at this distance is left.
function Fog:dims(distance)
  return 1 / (1 + self.depth * distance)
end

return Fog
