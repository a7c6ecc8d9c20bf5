local Lantern = {}
local wicks = { { length = 1 }, { length = 2 } }

function Lantern.shine(level)
  local wick = wicks[level]
  return wick.length * 1.5
end

return Lantern
