import roster
from sailor import Sailor
from signals import Board

sailors = {}
for name, rank, hours in roster.read("watch.txt"):
    sailors[name] = Sailor(name, rank, hours)

board = Board()


def on_fog(sailor):
    sailor.tire(3)
    return "horn by " + sailor.name


def on_light(sailor):
    sailor.tire(1)
    return "light seen by " + sailor.title()


board.bind("fog", on_fog)
board.bind("light", on_light)

for hour, event in enumerate(["light", "fog", "light", "fog"]):
    name = roster.ORDER[hour % len(roster.ORDER)]
    print(hour, board.fire(event, sailors[name]))

rested = [sailor.name for sailor in sailors.values() if sailor.left() > 2]
print("rested: " + ", ".join(rested))
