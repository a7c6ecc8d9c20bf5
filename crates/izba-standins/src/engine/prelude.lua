-- The engine's own Lua. It gives scripts their print, warn and fatal, and calls handlers.
local host = ...

local function joined(...)
  local words = table.pack(...)
  for at = 1, words.n do
    words[at] = tostring(words[at])
  end
  return table.concat(words, " ")
end

function print(...)
  host.print(joined(...))
end

function warn(...)
  host.warn(joined(...))
end

local Fatal = {}

-- Ends the game with a sentence of the script's own.
function fatal(message)
  error(setmetatable({ message = tostring(message) }, Fatal), 2)
end

local function tell(problem)
  local ends = getmetatable(problem) == Fatal
  local message = ends and problem.message or tostring(problem)
  host.failed(message, ends)
end

return function(object, handler, argument)
  local method = object[handler]
  if method then
    xpcall(method, tell, object, argument)
  end
end
