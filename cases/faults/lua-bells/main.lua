local Bell = require("bell")
local tower = require("tower")

local bells = {}
for _, row in ipairs(tower.bells) do
  bells[row.name] = Bell.new(row.name, row.weight)
end

local function ring(round)
  local strokes = {}
  for i = 1, #round do
    local bell = bells[round[i]]
    bell:swing(i)
    strokes[i] = bell:sound()
  end
  return table.concat(strokes, " ")
end

for number, round in ipairs(tower.rounds) do
  print(number .. ": " .. ring(round))
end

local heaviest = tower.heaviest(bells)
print("heaviest " .. heaviest.name .. ", swung " .. heaviest.swings .. " times")
