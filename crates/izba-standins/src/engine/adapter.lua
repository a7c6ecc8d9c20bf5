-- What a stopped script shows: its steps, their values, what an expression is there; and when to stop.
-- Given: what the engine offers, Lua's own look inside, and the engine with its objects.
local host, debug, engine = ...
local api = {}
local points, lines, errors = {}, {}, "none"
local mode
local refs = {}
local failed
local inside = false

local function is_own(source)
  return source:sub(1, 1) == "@" and source:sub(1, 14) ~= "@marsh-engine/"
end

-- How many functions are running below this level of the caller.
local function depth(level)
  local n = 0
  while debug.getinfo(level + 1 + n, "l") do
    n = n + 1
  end
  return n
end

local onhook

-- Goes on or goes a step, as the one who looks wants it.
local function stop(reason, text)
  refs = {}
  inside = true
  local how = host.stopped(reason, text)
  inside = false
  refs, failed = {}, nil
  mode = nil
  if how ~= "go" then
    local at, level = nil, 2
    -- Counted from the function that is stopped, whether in a line or in an error.
    repeat
      level = level + 1
      local info = debug.getinfo(level, "S")
      at = info and info.what ~= "C" and is_own(info.source)
    until at or not info
    local here = depth(level)
    if how == "into" or how == "over" or how == "out" then
      mode = { kind = how, depth = here, low = here, co = coroutine.running() }
    end
  end
  api.refresh()
end

local function reached(point, line)
  if point.condition then
    local ok, value = api.work_out(4, point.condition)
    if not ok then
      if not point.told then
        point.told = true
        host.note("the condition “" .. point.condition .. "” cannot be worked out: " .. tostring(value))
      end
      return false
    end
    if not value then
      return false
    end
  end
  point.count = point.count + 1
  if point.hits and point.count <= point.hits then
    return false
  end
  if point.log then
    host.note((point.log:gsub("{(.-)}", function(expression)
      local ok, value = api.work_out(5, expression)
      return ok and (type(value) == "string" and value or api.shown(value)) or "{" .. expression .. ": " .. tostring(value) .. "}"
    end)))
    return false
  end
  return true
end

function onhook(event, line)
  if inside then
    return
  end
  if not line then
    if host.changed() then
      api.refresh()
    end
    return
  end
  if mode then
    local own = is_own(debug.getinfo(2, "S").source)
    if mode.kind == "pause" then
      if own then
        stop("pause")
        return
      end
    else
      local same = coroutine.running() == mode.co
      if same then
        mode.low = math.min(mode.low, depth(2))
      end
      local left = mode.low < mode.depth
      local over = coroutine.status(mode.co) == "dead"
      local entered = mode.kind == "into" and (own or same)
      local back = own and (same or left) and (left or mode.kind == "over" and depth(2) <= mode.depth)
      if entered or own and over or back then
        -- No tail call: the steps are counted from here.
        stop("step")
        return
      end
    end
  end
  if lines[line] then
    local source = debug.getinfo(2, "S").source
    local point = points[source:sub(2)]
    point = point and point[line]
    if point and reached(point, line) then
      stop("breakpoint")
    end
  end
end

-- Takes over what is wanted now, and watches each line only while that is needed.
function api.refresh()
  local wanted = host.wanted()
  if wanted then
    local counts = {}
    for file, at in pairs(points) do
      for line, point in pairs(at) do
        counts[file .. ":" .. line .. ":" .. (point.condition or "")] = point.count
      end
    end
    points, lines, errors = {}, {}, wanted.errors
    for _, point in ipairs(wanted.points) do
      points[point.file] = points[point.file] or {}
      points[point.file][point.line] = point
      point.count = counts[point.file .. ":" .. point.line .. ":" .. (point.condition or "")] or 0
      lines[point.line] = true
    end
  end
  if host.pausing() then
    mode = { kind = "pause" }
  end
  -- Any hook at all makes each instruction slower, so there is none while nothing is waited for.
  if host.attached() and (mode or next(lines)) then
    debug.sethook(onhook, "l", 10000)
  else
    debug.sethook()
  end
end

-- Gives a routine the eyes that the engine has now.
function api.watch(co)
  local hook, mask, count = debug.gethook()
  if hook then
    debug.sethook(co, hook, mask, count)
  else
    debug.sethook(co)
  end
  host.runs(co)
end

-- The routine has waited or is over: the game's own thread runs again.
function api.unwatch()
  host.runs(nil)
end

-- An error was raised; true when it shall be passed over although it would end the game.
function api.raised(message, ends, caught)
  if inside or not host.attached() or errors == "none" or caught and errors ~= "all" then
    return false
  end
  failed = { kind = ends and "fatal" or "error", message = message, ends = ends, caught = caught }
  stop("exception", message)
  return ends and not host.ending()
end

local function work(problem)
  api.raised(tostring(problem), false, true)
  return problem
end

function pcall(f, ...)
  return xpcall(f, work, ...)
end

-- The level of the newest step that is shown, seen from the one who calls.
local function top()
  local level, found = 2, nil
  while true do
    local info = debug.getinfo(level, "fS")
    if not info then
      return nil
    end
    if found and (not failed or info.what ~= "C" and is_own(info.source)) then
      return level - 1
    end
    found = found or info.func == onhook or info.func == api.raised
    level = level + 1
  end
end

function api.frames()
  local list, first = {}, top()
  if not first then
    return list
  end
  for level = first, first + 199 do
    local info = debug.getinfo(level, "Snl")
    if not info then
      break
    end
    if info.what ~= "C" and info.currentline > 0 then
      local name = info.name or (info.what == "main" and "the main part") or host.handler()
      list[#list + 1] = { id = level - first + 1, name = name, source = info.source:sub(2), line = info.currentline }
    end
  end
  return list
end

local function fields(t)
  local n = 0
  for _ in next, t do
    n = n + 1
    if n >= 100000 then
      break
    end
  end
  return n - rawlen(t)
end

local function is_object(t)
  return rawget(t, "kind") ~= nil and rawget(t, "id") ~= nil
end

function api.shown(value)
  local kind = type(value)
  if kind == "string" then
    return #value > 400 and '"' .. value:sub(1, 400) .. '…"' or '"' .. value .. '"'
  elseif kind ~= "table" then
    return kind == "function" and "function" or tostring(value)
  elseif is_object(value) then
    return value.kind .. "#" .. value.id
  elseif rawget(value, "gone") then
    return "an object that was destroyed"
  end
  local list, named = rawlen(value), fields(value)
  if list == 0 and named == 0 then
    return "empty"
  elseif named <= 0 then
    return "list of " .. list
  end
  return list == 0 and "table of " .. named or "list of " .. list .. " and table of " .. named
end

local function keep(ref)
  refs[#refs + 1] = ref
  return #refs
end

local function row(name, value, expression, frame)
  local one = { name = tostring(name), value = api.shown(value), type = type(value), evaluateName = expression, variablesReference = 0 }
  if type(value) == "table" then
    one.variablesReference = keep({ table = value, expression = expression, frame = frame })
    one.indexedVariables, one.namedVariables = rawlen(value), math.max(fields(value), 0)
    one.type = is_object(value) and value.kind or "table"
  end
  return one
end

function api.scopes(id)
  local level = top() + id - 1
  local list, self = {}, nil
  local at = 1
  while true do
    local name, value = debug.getlocal(level, at)
    if not name then
      break
    end
    if name == "self" and type(value) == "table" then
      self = value
    end
    at = at + 1
  end
  list[1] = { name = "Locals", presentationHint = "locals", variablesReference = keep({ locals = id }), expensive = false }
  if self then
    local one = row("self", self, "self", id)
    list[#list + 1] = { name = one.value, variablesReference = one.variablesReference, expensive = false, namedVariables = one.namedVariables, indexedVariables = one.indexedVariables }
  end
  list[#list + 1] = { name = "Objects", variablesReference = keep({ objects = true, frame = id }), expensive = false }
  list[#list + 1] = { name = "Taken along", variablesReference = keep({ upvalues = id }), expensive = true }
  list[#list + 1] = { name = "Globals", presentationHint = "globals", variablesReference = keep({ table = _G, frame = id, globals = true }), expensive = true }
  return list
end

local function sorted(t)
  local keys = {}
  for key in next, t do
    if not (math.type(key) == "integer" and key >= 1 and key <= rawlen(t)) then
      keys[#keys + 1] = key
    end
    if #keys >= 2000 then
      break
    end
  end
  local function rank(key)
    return type(t[key]) == "function" and 1 or 0
  end
  table.sort(keys, function(a, b)
    if rank(a) ~= rank(b) then
      return rank(a) < rank(b)
    end
    return tostring(a) < tostring(b)
  end)
  return keys
end

function api.variables(number)
  local ref, list = refs[number], {}
  if not ref then
    return nil
  end
  if ref.locals then
    local level, at, seen = top() + ref.locals - 1, 1, {}
    while true do
      local name, value = debug.getlocal(level, at)
      if not name then
        break
      end
      if name:sub(1, 1) ~= "(" then
        -- The later one of two of the same name is the one that is meant.
        local one = row(name, value, name, ref.locals)
        if seen[name] then
          list[seen[name]] = one
        else
          list[#list + 1] = one
          seen[name] = #list
        end
      end
      at = at + 1
    end
  elseif ref.upvalues then
    local info, at = debug.getinfo(top() + ref.upvalues - 1, "f"), 1
    while info do
      local name, value = debug.getupvalue(info.func, at)
      if not name then
        break
      end
      if name ~= "_ENV" then
        list[#list + 1] = row(name, value, name, ref.upvalues)
      end
      at = at + 1
    end
  elseif ref.objects then
    for _, object in ipairs(engine.objects()) do
      list[#list + 1] = row(api.shown(object), object, nil, ref.frame)
    end
  else
    local t = ref.table
    for at = 1, math.min(rawlen(t), 2000) do
      list[#list + 1] = row(at, rawget(t, at), ref.expression and ref.expression .. "[" .. at .. "]", ref.frame)
    end
    for _, key in ipairs(sorted(t)) do
      local expression = ref.expression and type(key) == "string" and key:match("^[%a_][%w_]*$") and ref.expression .. "." .. key
      list[#list + 1] = row(key, rawget(t, key), expression or nil, ref.frame)
    end
  end
  return list
end

-- Works an expression out in the function at a level of the caller.
function api.work_out(level, text)
  local values, has = {}, {}
  local info = debug.getinfo(level, "f")
  local at = 1
  while info do
    local name, value = debug.getupvalue(info.func, at)
    if not name then
      break
    end
    values[name], has[name] = value, true
    at = at + 1
  end
  at = 1
  while true do
    local name, value = debug.getlocal(level, at)
    if not name then
      break
    end
    values[name], has[name] = value, true
    at = at + 1
  end
  local env = setmetatable({}, {
    __index = function(_, name)
      if has[name] then
        return values[name]
      end
      return _G[name]
    end,
  })
  local chunk, problem = load("return " .. text, "=expression", "t", env)
  if not chunk then
    return false, (problem:gsub("^expression:%d+: ", ""))
  end
  local co = coroutine.create(chunk)
  debug.sethook(co, function()
    error("it takes too long to work out", 0)
  end, "", 3000000)
  local was = inside
  inside = true
  local ok, value = coroutine.resume(co)
  inside = was
  if ok and coroutine.status(co) == "suspended" then
    return false, "it wants to wait"
  end
  if not ok then
    value = tostring(value):gsub("^expression:%d+: ", "")
  end
  return ok, value
end

function api.evaluate(id, text)
  local ok, value = api.work_out(top() + id, text)
  if not ok then
    return nil, value
  end
  local one = row("", value, text, id)
  one.result = one.value
  return one
end

function api.set(number, name, text)
  local ref = refs[number]
  if not ref then
    return nil, "that value is not known any more"
  end
  local id = ref.locals or ref.upvalues or ref.frame or 1
  local ok, value = api.work_out(top() + id, text)
  if not ok then
    return nil, value
  end
  local level = top() + id - 1
  if ref.locals then
    local at, found = 1, nil
    while true do
      local one = debug.getlocal(level, at)
      if not one then
        break
      end
      if one == name then
        found = at
      end
      at = at + 1
    end
    if not found then
      return nil, "there is no " .. name .. " here"
    end
    debug.setlocal(level, found, value)
  elseif ref.upvalues then
    local info, at = debug.getinfo(level, "f"), 1
    while true do
      local one = debug.getupvalue(info.func, at)
      if not one then
        return nil, "there is no " .. name .. " here"
      end
      if one == name then
        debug.setupvalue(info.func, at, value)
        break
      end
      at = at + 1
    end
  elseif ref.table then
    local key = math.tointeger(tonumber(name))
    rawset(ref.table, key and rawget(ref.table, key) ~= nil and key or name, value)
  else
    return nil, "an object cannot be put in the place of another one"
  end
  return row(name, value, nil, id)
end

function api.error()
  return failed
end

return api
