ORDER = ["ida", "jon", "kaj"]


def read(path):
    rows = []
    with open(path) as source:
        for line in source:
            parts = line.split()
            if len(parts) == 3:
                rows.append((parts[0], parts[1], int(parts[2])))
    return rows
