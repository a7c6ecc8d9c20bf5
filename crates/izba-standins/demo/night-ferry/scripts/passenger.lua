-- A passenger of the ferry.
local Passenger = {}

-- Goes ashore and is seen no more.
function Passenger:leave()
  print(self.name .. " passenger goes ashore")
  destroy(self)
end

function Passenger:sitDown()
  self.seated = true
end

return Passenger
