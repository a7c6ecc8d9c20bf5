-- A gull sits on the mast until somebody comes too near.
local Gull = {}

function Gull:begin()
  self.sitting = true
end

function Gull:touched()
  self.sitting = false
  print("the gull flies off")
end

return Gull
