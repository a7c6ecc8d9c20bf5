class Hold:
    def __init__(self, name, limit):
        self.name = name
        self.limit = limit
        self.crates = []

    def stow(self, crate):
        self.crates.append(crate)
        crate.hold = self

    def load(self):
        return sum(crate.weight for crate in self.crates)

    def room(self):
        return self.limit - self.load()

    def report(self):
        marks = ", ".join(crate.label() for crate in self.crates)
        return self.name + ": " + str(self.load()) + " of " + str(self.limit) + " (" + marks + ")"
