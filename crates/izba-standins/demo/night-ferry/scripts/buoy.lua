-- A buoy swings on its chain.
local Buoy = {}

local LIGHTS = {
  { colour = "red", every = 4 },
  { colour = "green", every = 5 }
  { colour = "white", every = 2 },
}

function Buoy:begin()
  self.light = LIGHTS[1]
  self.swing = 0
end

function Buoy:tick(dt)
  self.swing = (self.swing + dt) % self.chain
end

return Buoy
