def turn(tide)
    return -tide


print(turn(1.2))
