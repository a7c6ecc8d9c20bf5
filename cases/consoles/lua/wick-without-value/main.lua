local lantern = require("lantern")

local function light(level)
  lantern.shine(level)
end

print("the lanterns are lit")
light(2)
light(9)
