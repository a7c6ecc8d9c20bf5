-- The wind drives the fog and the ferry.
local Wind = {}

local GUST = 1.6

function Wind:begin()
  self.gusts = 0
  self.strongest = self.force * GUST
end

function Wind:tick(dt)
  self.gusts = self.gusts + dt / 12
end

return Wind
