local function ring(times)
  return times + 1
end

print(ring(1))
print(rign(2))
