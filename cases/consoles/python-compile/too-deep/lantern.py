oil = 4
  wick = 2
print(oil)
