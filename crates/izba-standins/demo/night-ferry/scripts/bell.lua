-- The bell on the far bank calls the ferry.
local Bell = {}

function Bell:begin()
  self.rung = 0
end

function Bell:ring()
  if not self.rope then
    warn("the bell has no rope and stays silent")
    return
  end
  self.rung = self.rung + 1
  print("the bell rings, " .. self.rung)
  for _, passenger in ipairs(all("Passenger")) do
    passenger:sitdown()
  end
end

return Bell
