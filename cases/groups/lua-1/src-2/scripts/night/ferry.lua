-- A part of the Night Ferry.
local deeds = {}
-- Looked at on an evening in June.
-- Looked at on an evening in June.

deeds['told'] = function(i, who)
  error('no bell for ' .. who .. ' at pier ' .. i)
end
-- Looked at on an evening in May.

deeds['nil-call'] = function(i, who)
  local buoy = {}
  buoy.ring(i)
end

deeds['file-a'] = function(i, who)
  assert(io.open('packs/mast_night.json'))
end

deeds['nil-field'] = function(i, who)
  local crew = {}
  return crew[who].wick
end

deeds['twice-a'] = function(i, who)
  local a, b
  if i % 1 == 0 then
    a = b.tiller
  end
  return a
end
-- Written on an evening in May.
-- Written on an evening in May.

deeds['compare'] = function(i, who)
  local sail = 'seven'
  return sail < i
end
-- Looked at on an evening in May.
-- Looked at on an evening in May.

deeds['pair-a'] = function(i)
  local x
  return x.y
end
deeds['pair-b'] = function(i)
  local x
  return x.y
end
-- Written on an evening in June.
-- Written on an evening in June.
-- Written on an evening in June.

deeds['file-b'] = function(i, who)
  assert(io.open('packs/keel_day' .. i .. '.json'))
end
-- Written on an evening in May.
-- Written on an evening in May.

deeds['join-nil'] = function(i, who)
  local oar
  return 'to ' .. oar
end
-- Looked at on an evening in May.

deeds['asserted'] = function(i, who)
  assert(i < 0, 'the hull must be below zero, it is ' .. i)
end
-- Written on an evening in June.

deeds['text-number'] = function(i, who)
  return ('lamp ' .. who) + i
end

deeds['nil-global'] = function(i, who)
  return tideplank * i
end
-- Looked at on an evening in June.

local function moor(boat)
  return boat.name .. boat.pier
end
deeds['helper'] = function(i, who) return moor({ name = who }) end
deeds['helper#2'] = function(i, who) return moor({ name = who .. i }) end
-- Mended on an evening in June.
-- Mended on an evening in June.
-- Mended on an evening in June.

deeds['deep'] = function(i, who)
  local function inner(n) if n == 0 then error('anchor of depth ' .. i) end return inner(n - 1) + 1 end
  return inner(3 + i % 3)
end
-- Looked at on an evening in June.

deeds['nil-local'] = function(i, who)
  local rope
  return rope.level
end
-- Mended on an evening in June.
-- Mended on an evening in June.
-- Mended on an evening in June.

deeds['told-number'] = function(i, who)
  error('reed ' .. i .. ' is taken since ' .. i % 24 .. ':05')
end

deeds['nil-method'] = function(i, who)
  local berth = {}
  berth:ring(i)
end
local order, seed = {}, tonumber(arg[1])
for name in pairs(deeds) do order[#order + 1] = name end
table.sort(order)
local names = { 'Ada Reed', 'Bo', 'Clementine Marsh', 'Dov', 'Elin of the Jetty', 'Finn', 'Gro Nilsen', 'Hedy', 'Ivo' }
local n = seed * 1000
for round = 1, 17 do
  for at = 1, #order do
    n = n + 1
    local name = order[(at * 7 + round * 3) % #order + 1]
    local ok, why = xpcall(function() return deeds[name](n % 90 + 1, names[n % #names + 1]) end, debug.traceback)
    print('@@' .. name:gsub('#.*', ''))
    io.stdout:write('lua: ')
    print(why)
    print('the ferry goes on, ' .. n .. ' m')
  end
end
