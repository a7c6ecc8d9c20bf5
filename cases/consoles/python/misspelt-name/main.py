def needle():
    tideheight = 12
    return tideheigth * 2


print(needle())
