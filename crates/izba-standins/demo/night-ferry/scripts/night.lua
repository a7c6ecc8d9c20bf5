-- The night sky, from one bank to the other.
local Night = {}

function Night:begin()
  print("it is night over the marsh")
end

return Night
