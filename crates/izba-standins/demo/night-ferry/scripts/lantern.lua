-- A lantern on a post. Its flame depends on the wick that it burns and on the oil that is left.
local Lantern = {}

local BURN = 0.002
local BRIGHT = 1.5

local WICKS = {
  { name = "thread", length = 1 },
  { name = "cord", length = 2 },
  { name = "braid", length = 3 },
  { name = "flat", length = 4 },
  { name = "round", length = 5 },
  { name = "double", length = 6 },
  { name = "ship", length = 8 },
}

function Lantern:begin()
  self.oil = 1
  self.flame = 0
  self.wicks = WICKS
end

-- Raises the wick by one; at the top it stays where it is.
function Lantern:raise()
  self.level = self.level + 1
  if self.level > #self.wicks then
    self.level = #self.wicks
  end
end

function Lantern:shine(dt)
  local wick = self.wicks[self.level]
  self.oil = self.oil - dt * BURN
  self.flame = wick.length * BRIGHT * self.oil
end

function Lantern:tick(dt)
  if self.oil > 0 then
    self:shine(dt)
  end
end

-- Whoever touches a burning lantern had better be careful.
function Lantern:touch()
  self:raise()
  if self.level > 5 then
    fatal("lantern " .. self.id .. " fell into the water and the game is over")
  end
  steps("a lantern was raised to " .. self.level)
end

return Lantern
