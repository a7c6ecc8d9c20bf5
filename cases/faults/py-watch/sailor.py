RANKS = {
    "mate": "first mate",
    "hand": "deck hand",
    "boy": "ship's boy",
}


class Sailor:
    def __init__(self, name, rank, hours):
        self.name = name
        self.rank = rank
        self.hours = hours
        self.spent = 0

    def tire(self, amount):
        self.spent += amount

    def left(self):
        return self.hours - self.spent

    def title(self):
        return RANKS[self.rank] + " " + self.name.capitalize()
