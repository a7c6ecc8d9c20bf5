local harbour = {}

harbour.depths = { 2, 3, 5, 4 }

harbour.tolls = {
  skiff = 1,
  cutter = 2,
  barge = 5,
}

harbour.arrivals = {
  { name = "Teal", length = 5, crew = { "Ane", "Bo" } },
  { name = "Coot", length = 11, crew = { "Cis" } },
  { name = "Grebe", length = 24, crew = { "Dag", "Eir", "Fie" } },
}

function harbour.find(list, boat)
  for _, berth in ipairs(list) do
    if berth:free() and berth.depth * 5 >= boat.length then
      return berth
    end
  end
end

function harbour.summary(list)
  local parts = {}
  for _, berth in ipairs(list) do
    local first = berth.moored[1]
    parts[#parts + 1] = first and first:describe() or "empty"
  end
  return table.concat(parts, ", ")
end

return harbour
