-- The ship's log tells every now and then how things are.
local Log = {}

function Log:begin()
  self.pages = 0
end

function Log:keep()
  self.pages = self.pages + 1
  local safe = Knots.holds("bowline", 30)
  print("log: page " .. self.pages .. ", ropes " .. (safe and "safe" or "weak"))
end

return Log
