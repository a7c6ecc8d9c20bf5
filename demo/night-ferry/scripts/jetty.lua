-- The jetty where the ferry lands. Loose planks creak.
local Jetty = {}

function Jetty:begin()
  self.loose = self.planks // 12
  if self.loose > 2 then
    warn(self.loose .. " planks of the jetty are loose")
  end
end

return Jetty
