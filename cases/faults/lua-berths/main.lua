local Berth = require("berth")
local Boat = require("boat")
local harbour = require("harbour")

local function arrive(list, entry)
  local boat = Boat.new(entry.name, entry.length, entry.crew)
  local berth = harbour.find(list, boat)
  if berth then
    berth:moor(boat)
    boat:settle(berth.number)
  else
    print(boat.name .. " waits outside")
  end
end

local berths = {}
for number, depth in ipairs(harbour.depths) do
  berths[number] = Berth.new(number, depth)
end

for _, entry in ipairs(harbour.arrivals) do
  arrive(berths, entry)
end

local total = 0
for i = 1, #berths do
  total = total + berths[i]:toll(harbour.tolls)
end
print("toll " .. total)
print(harbour.summary(berths))
