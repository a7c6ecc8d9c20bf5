-- The tide rises and falls; the clock on the jetty shows it.
local TideClock = {}

local PERIOD = 16

function TideClock:begin()
  self.time = 0
  self.rising = true
end

function TideClock:tick(dt)
  self.time = self.time + dt
  self.height = 1.2 + 0.8 * math.sin(self.time / PERIOD * 2 * math.pi)
  if math.floor(self.time) > math.floor(self.time - dt) then
    print(string.format("tide %.2f", self.height))
  end
end

-- The tide turns: the needle goes to the other side.
function TideClock:turn()
  self.rising = not self.rising
  local tideheight = math.floor(self.height * 10)
  self.needle = tideheigth * (self.rising and 1 or -1)
  print("the tide turns")
end

return TideClock
