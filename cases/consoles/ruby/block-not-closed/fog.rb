def drift(depth)
  if depth > 3
    puts "thick"
end

drift(4)
