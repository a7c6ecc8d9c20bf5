def roomiest(holds, crate):
    best = holds[0]
    for hold in holds:
        if hold.room() > best.room():
            best = hold
    return best


def in_turn(holds, crate):
    turn = len(crate.mark) % len(holds)
    return holds[turn]


def heaviest(holds):
    ordered = sorted(holds, key=lambda hold: hold.load())
    return ordered[len(ordered) - 1]
