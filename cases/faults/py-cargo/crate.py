from enum import Enum


class Kind(Enum):
    DRY = 1
    COLD = 2
    LIVE = 3


class Crate:
    def __init__(self, mark, weight, kind):
        self.mark = mark
        self.weight = weight
        self.kind = kind
        self.hold = None

    def label(self):
        place = self.hold.name[:1]
        return place + "-" + self.mark.upper() + "/" + self.kind.name.lower()
