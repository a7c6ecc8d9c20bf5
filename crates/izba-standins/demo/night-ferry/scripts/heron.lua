-- A heron stands in the shallows and flies up when it is disturbed.
local Heron = {}

function Heron:begin()
  self.fear = 0
end

function Heron:tick(dt)
  self.fear = self.fear + dt
  if self.fear > 12 do
    print("the heron flies up")
    self.fear = 0
  end
end

return Heron
