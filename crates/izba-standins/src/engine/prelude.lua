-- The engine's own Lua: the objects of the scene, their handlers and routines, and what scripts may call.
local host = ...
local objects, classes, routines, meeting = {}, {}, {}, {}
local layers, pictures = {}, {}
local now = 0

local function joined(...)
  local words = table.pack(...)
  for at = 1, words.n do
    words[at] = tostring(words[at])
  end
  return table.concat(words, " ")
end

function print(...)
  host.say("note", joined(...))
end

function warn(...)
  host.say("warn", joined(...))
end

-- Prints the steps that led here; nothing is wrong.
function steps(...)
  host.steps(joined(...))
end

local Fatal = {}

-- Ends the game with a sentence of the script's own.
function fatal(message)
  error(setmetatable({ message = tostring(message) }, Fatal), 2)
end

local adapter

local function tell(problem)
  local ends = getmetatable(problem) == Fatal
  if adapter and adapter.raised(ends and problem.message or tostring(problem), ends) then
    ends = false
    problem = problem.message
  end
  host.failed(ends and problem.message or tostring(problem), ends)
end

local function name_of(object)
  return object.kind .. "#" .. object.id
end

local function call(object, handler, ...)
  local method = object[handler]
  if type(method) == "function" and not rawget(object, "gone") then
    host.who(name_of(object), handler)
    xpcall(method, tell, object, ...)
  end
end

-- The first object of a kind, or nil.
function find(kind)
  for _, object in ipairs(objects) do
    if object.kind == kind then
      return object
    end
  end
end

-- All objects of a kind.
function all(kind)
  local found = {}
  for _, object in ipairs(objects) do
    if object.kind == kind then
      found[#found + 1] = object
    end
  end
  return found
end

-- Takes an object out of the scene; nothing is left of it.
function destroy(object)
  for at, other in ipairs(objects) do
    if other == object then
      table.remove(objects, at)
      break
    end
  end
  for key in pairs(object) do
    object[key] = nil
  end
  setmetatable(object, nil)
  object.gone = true
end

-- Starts a routine, which may wait.
function routine(body, ...)
  local co = coroutine.create(function(...)
    xpcall(body, tell, ...)
  end)
  local who, handler = host.whose()
  routines[#routines + 1] = { co = co, wake = now, who = who, handler = handler, first = table.pack(...) }
end

-- Lets a routine wait for so many seconds.
function wait(seconds)
  coroutine.yield(seconds)
end

local brought = {}

-- Loads another script once and gives back what it returns.
function bring(path)
  if brought[path] == nil then
    local text = host.text(path)
    if not text then
      error("cannot open " .. path .. ": no such file", 2)
    end
    local part, problem = load(text, "@" .. path)
    if not part then
      error(problem, 0)
    end
    brought[path] = part() or true
  end
  return brought[path]
end

local engine = {}

-- Somebody may look inside from now on.
function engine.looked_at(by)
  adapter = by
end

-- All objects of the scene, in their order.
function engine.objects()
  return objects
end

-- Sets what there is to be drawn.
function engine.drawn(with_layers, with_pictures)
  for depth, layer in ipairs(with_layers) do
    layers[layer] = depth
  end
  pictures = with_pictures
end

-- Keeps a script's class; a later version takes the place of the earlier one, and its objects stay.
function engine.class(path, class)
  local old = classes[path]
  if not old then
    classes[path] = class
    return
  end
  for key in pairs(old) do
    old[key] = nil
  end
  for key, value in pairs(class) do
    old[key] = value
  end
end

function engine.place(object, path)
  objects[#objects + 1] = setmetatable(object, { __index = classes[path] })
  return object
end

function engine.begin(object)
  call(object, "begin")
end

local function named(name)
  for _, object in ipairs(objects) do
    if name_of(object) == name then
      return object
    end
  end
end

-- Calls a handler by name; false when there is no such object.
function engine.call(name, handler, ...)
  local object = named(name)
  if object then
    call(object, handler, ...)
  end
  return object ~= nil
end

-- The player touches an object: the handler that the scene names for it, or else its `touch`.
function engine.touch(name)
  local object = named(name)
  if object then
    local wired = object.handlers
    call(object, wired and wired.touch or "touch")
  end
  return object ~= nil
end

local function size_of(object)
  local picture = pictures[object.picture]
  return picture and picture.size or { 0, 0 }, picture
end

local function covers(front, back)
  local front_size, picture = size_of(front)
  local size = size_of(back)
  return picture and picture.opaque and (layers[front.layer] or 0) > (layers[back.layer] or 0)
    and math.abs(front.x - back.x) * 2 + size[1] <= front_size[1]
    and math.abs(front.y - back.y) * 2 + size[2] <= front_size[2]
end

-- Whether the player can see an object: it has a picture, is visible, and nothing opaque stands before it.
function engine.sees(name)
  local object = named(name)
  if not object or not pictures[object.picture] or object.visible == false then
    return false
  end
  for _, other in ipairs(objects) do
    if other ~= object and other.visible ~= false and covers(other, object) then
      return false
    end
  end
  return true
end

local function meet(a, b)
  local size_a, picture_a = size_of(a)
  local size_b, picture_b = size_of(b)
  return picture_a and picture_b and picture_a.solid and picture_b.solid
    and math.abs(a.x - b.x) * 2 < size_a[1] + size_b[1] and math.abs(a.y - b.y) * 2 < size_a[2] + size_b[2]
end

local function bump_all()
  local here = table.move(objects, 1, #objects, 1, {})
  for i = 1, #here do
    for k = i + 1, #here do
      local a, b = here[i], here[k]
      if not a.gone and not b.gone and a.x and b.x then
        local key, meets = name_of(a) .. "/" .. name_of(b), meet(a, b)
        if meets ~= (meeting[key] or false) then
          meeting[key] = meets
          call(a, meets and "bump" or "part", b)
          if not b.gone then
            call(b, meets and "bump" or "part", a)
          end
        end
      end
    end
  end
end

local function resume_all()
  local due, kept = routines, {}
  -- A routine that one of these starts waits for the next tick.
  routines = kept
  for _, one in ipairs(due) do
    if one.wake <= now then
      host.who(one.who, one.handler)
      if adapter then
        adapter.watch(one.co)
      end
      local first = one.first or { n = 0 }
      one.first = nil
      local _, seconds = coroutine.resume(one.co, table.unpack(first, 1, first.n))
      if adapter then
        adapter.unwatch()
      end
      one.wake = now + (tonumber(seconds) or 0)
    end
    if coroutine.status(one.co) ~= "dead" then
      kept[#kept + 1] = one
    end
  end
end

function engine.tick(dt)
  now = now + dt
  for _, object in ipairs(table.move(objects, 1, #objects, 1, {})) do
    call(object, "tick", dt)
  end
  bump_all()
  resume_all()
end

return engine
