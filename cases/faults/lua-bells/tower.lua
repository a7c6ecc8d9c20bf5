local tower = {}

tower.bells = {
  { name = "anna", weight = 10 },
  { name = "brit", weight = 18 },
  { name = "cleo", weight = 26 },
}

tower.rounds = {
  { "anna", "brit", "cleo" },
  { "cleo", "anna", "brit" },
  { "brit", "cleo", "anna" },
}

function tower.heaviest(bells)
  local best
  for _, bell in pairs(bells) do
    if not best or bell.weight > best.weight then
      best = bell
    end
  end
  return best
end

return tower
