-- The ferry goes from bank to bank and back.
local Ferry = {}

local SPEED = 0.05

function Ferry:begin()
  self.position = 0
  self.heading = 1
end

function Ferry:tick(dt)
  self.position = self.position + self.heading * SPEED * dt
  self.fuel = self.fuel - 0.001 * dt
  if self.position > 1 or self.position < 0 then
    self.heading = -self.heading
  end
end

function Ferry:board()
  self.passengers = self.passengers + 1
  print(string.format("passengers=%d fuel=%.2f", self.passengers, self.fuel))
end

return Ferry
