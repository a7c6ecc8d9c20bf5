-- The cabin: who sits where, and what they weigh together.
local Cabin = {}

function Cabin:begin()
  self.aboard = all("Passenger")
end

-- Everybody gets a seat of their own.
function Cabin:seat()
  for seat = 0, #self.aboard - 1 do
    local passenger = self.aboard[seat]
    passenger.seat = seat
  end
end

-- The ferry must not be too heavy.
function Cabin:weigh()
  local sum = 0
  for _, passenger in ipairs(self.aboard) do
    local weight = passenger.weight + 2
    sum = sum + weight
  end
  print("weight: " .. sum)
end

return Cabin
