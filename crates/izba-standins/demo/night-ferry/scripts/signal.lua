-- The signal post greets the ferry with the bell.
local Signal = {}

function Signal:greet()
  local target = "Bell"
  if find("Bell") then
    target:ring()
  end
end

return Signal
