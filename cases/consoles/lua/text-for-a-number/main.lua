local tide = "low"
print(math.floor(tide))
