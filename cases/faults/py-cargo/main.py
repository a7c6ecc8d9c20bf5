import json
import os

from hold import Hold
from crate import Crate, Kind
import stowing

HERE = os.path.dirname(os.path.abspath(__file__))


def load(name):
    with open(os.path.join(HERE, name)) as source:
        return json.load(source)


def build(rows):
    crates = []
    for row in rows:
        kind = Kind[row["kind"]]
        crates.append(Crate(row["mark"], row["weight"], kind))
    return crates


def main():
    plan = load("plan.json")
    crates = build(plan["crates"])
    holds = [Hold(entry["name"], entry["limit"]) for entry in plan["holds"]]
    rule = getattr(stowing, plan["rule"])
    for crate in crates:
        hold = rule(holds, crate)
        hold.stow(crate)
    for hold in holds:
        print(hold.report())
    print("heaviest", stowing.heaviest(holds).name)


main()
