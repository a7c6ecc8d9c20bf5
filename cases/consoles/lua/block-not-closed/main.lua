local function drift(depth)
  if depth > 3 then
    depth = 0
  return depth
end

print(drift(4))
