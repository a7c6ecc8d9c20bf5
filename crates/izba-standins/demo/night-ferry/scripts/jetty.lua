-- The jetty where the ferry lands. Loose planks creak.
local Jetty = {}

function Jetty:begin()
  self.draught = 1.1
  self.loose = self.planks // 12
  if self.loose > 2 then
    warn(self.loose .. " planks of the jetty are loose")
  end
end

-- Somebody steps on it, or something lands.
function Jetty:bump(other)
  local mooring = other.rope.length
  if other.rope == nil then
    return
  end
  print("moored with " .. mooring .. " m of rope")
end

return Jetty
