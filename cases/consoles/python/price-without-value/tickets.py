PRICES = {"adult": 4}


def price(kind):
    return PRICES.get(kind)
