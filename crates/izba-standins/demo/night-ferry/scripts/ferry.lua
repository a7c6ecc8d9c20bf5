-- The ferry goes from bank to bank and back.
local Ferry = {}

local SPEED = 5

function Ferry:begin()
  self.heading = 1
  self.way = 0
  local jetty = find("Jetty")
  self.depth = jetty.draught + 0.4
end

function Ferry:tick(dt)
  self.fuel = self.fuel - 0.001 * dt
  self.x = self.x + self.heading * SPEED * self.way * dt
  if self.x > 100 or self.x < 34 then
    self.heading = -self.heading
  end
end

-- Passengers come aboard.
function Ferry:board()
  self.passengers = self.passengers + 1
  print(string.format("passengers=%d fuel=%.2f", self.passengers, self.fuel))
end

-- Under way, little by little.
function Ferry:crossing()
  if self.way > 0 then
    error("the ferry is under way already")
  end
  for knot = 1, 4 do
    self.way = knot / 4
    wait(1)
  end
  print("the ferry is under way")
  wait(20)
  self.way = 0
end

function Ferry:cast_off()
  routine(self.crossing, self)
end

function Ferry:bump(other)
  print("the ferry touches " .. other.kind)
end

return Ferry
