def label(seats):
    return "free seats: " + seats


print(label(12))
