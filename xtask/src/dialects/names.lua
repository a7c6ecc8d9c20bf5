-- Prints the names that come with Lua: globals, and what their tables hold.
local sorted = {}
for name in pairs(_G) do sorted[#sorted + 1] = name end
table.sort(sorted)
local function members(held)
  local names = {}
  for name in pairs(held) do names[#names + 1] = tostring(name) end
  table.sort(names)
  for _, name in ipairs(names) do print("members " .. name) end
end
for _, name in ipairs(sorted) do
  if name ~= "arg" and name ~= "_G" then
    print("builtins " .. name)
    if type(_G[name]) == "table" and name ~= "package" then members(_G[name]) end
  end
end
members(getmetatable(io.stdout).__index)
-- Of versions before and after this one.
for _, name in ipairs { "unpack", "loadstring", "setfenv", "getfenv", "maxn", "getn", "jit", "bit" } do
  print("builtins " .. name)
end
