local Ferry = { fuel = "0.9" }

function Ferry:tick(dt)
  self.fuel = self.fuel .. ""
  return self.fuel - dt * self.burn
end

for tick = 1, 3 do
  local ok, problem = xpcall(Ferry.tick, debug.traceback, Ferry, 0.1)
  if not ok then
    io.stderr:write("tick " .. tick .. " failed: " .. problem .. "\n")
  end
  print("tide 1." .. tick)
end
