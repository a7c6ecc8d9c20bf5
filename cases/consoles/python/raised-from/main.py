def passenger(names, seat):
    return names[seat]


def board(seat):
    try:
        return passenger(["Ada", "Bo"], seat)
    except IndexError as problem:
        raise RuntimeError(f"nobody sits on seat {seat}") from problem


print(board(1))
print(board(2))
