import tickets


def sell(kind):
    price = tickets.price(kind)
    return price + 1


print(sell("adult"))
print(sell("child"))
