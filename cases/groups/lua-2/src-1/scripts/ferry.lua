-- A part of the Night Ferry.
local deeds = {}

deeds['nil-field'] = function(i, who)
  local crew = {}
  return crew[who].ticket
end

deeds['nil-local'] = function(i, who)
  local fare
  return fare.level
end

deeds['nil-global'] = function(i, who)
  return tidegate * i
end

deeds['nil-call'] = function(i, who)
  local seat = {}
  seat.ring(i)
end

deeds['nil-method'] = function(i, who)
  local stamp = {}
  stamp:ring(i)
end

deeds['join-nil'] = function(i, who)
  local quay
  return 'to ' .. quay
end

deeds['compare'] = function(i, who)
  local crew = 'seven'
  return crew < i
end

deeds['text-number'] = function(i, who)
  return ('dock ' .. who) + i
end

deeds['told'] = function(i, who)
  error('no cargo for ' .. who .. ' at pier ' .. i)
end

deeds['told-number'] = function(i, who)
  error('deck ' .. i .. ' is taken since ' .. i % 24 .. ':05')
end

deeds['asserted'] = function(i, who)
  assert(i < 0, 'the chart must be below zero, it is ' .. i)
end

deeds['file-a'] = function(i, who)
  assert(io.open('packs/wave_night.json'))
end

deeds['file-b'] = function(i, who)
  assert(io.open('packs/moon_day' .. i .. '.json'))
end

deeds['twice-a'] = function(i, who)
  local a, b
  if i % 1 == 0 then
    a = b.lock
  end
  return a
end

deeds['deep'] = function(i, who)
  local function inner(n) if n == 0 then error('knot of depth ' .. i) end return inner(n - 1) + 1 end
  return inner(3 + i % 3)
end

local function moor(boat)
  return boat.name .. boat.pier
end
deeds['helper'] = function(i, who) return moor({ name = who }) end
deeds['helper#2'] = function(i, who) return moor({ name = who .. i }) end

deeds['pair-a'] = function(i)
  local x
  return x.y
end
deeds['pair-b'] = function(i)
  local x
  return x.y
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
    io.stdout:write(string.format('20:%02d:%02d.%03d | error | Ferry#1.tick | ', n % 60, n % 59, n % 1000))
    print(why)
    print('the ferry goes on, ' .. n .. ' m')
  end
end
