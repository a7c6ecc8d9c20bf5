# A part of the Night Ferry.
import logging, sys, traceback
deeds = {}
# Written on an evening in June.
# Written on an evening in June.

def deed_int(i, who):
    return int('crew ' + who)
deeds['int'] = deed_int
# Mended on an evening in June.
# Mended on an evening in June.
# Mended on an evening in June.

def deed_none_attr(i, who):
    ticket = None
    return ticket.level
deeds['none-attr'] = deed_none_attr
# Written on an evening in June.
# Written on an evening in June.
# Written on an evening in June.

def deed_asserted(i, who):
    assert i < 0, f'the deck must be below zero, it is {i}'
deeds['asserted'] = deed_asserted
# Written on an evening in June.
# Written on an evening in June.

def deed_attr(i, who):
    lock = 'rope'
    return lock.ring(i)
deeds['attr'] = deed_attr
# Looked at on an evening in June.
# Looked at on an evening in June.
# Looked at on an evening in June.

def deed_name(i, who):
    return tideseat * i
deeds['name'] = deed_name
# Written on an evening in June.

def moor(boat):
    return boat['name'] + boat['pier']
def quay(i, who):
    return moor({'name': who})
def harbour(i, who):
    return moor({'name': who, 'i': i})
deeds['helper'] = quay
deeds['helper#2'] = harbour
# Mended on an evening in May.
# Mended on an evening in May.

def deed_zero(i, who):
    moon = 0
    return i / moon
deeds['zero'] = deed_zero
# Mended on an evening in May.
# Mended on an evening in May.

def pair(i, who):
    x = None
    if i % 2:
        return x.y
    z = x
    return x.y
deeds['pair-a'] = lambda i, who: pair(1, who)
deeds['pair-b'] = lambda i, who: pair(2, who)
# Written on an evening in June.

def deed_key(i, who):
    crew = {}
    return crew[who]
deeds['key'] = deed_key
# Looked at on an evening in May.
# Looked at on an evening in May.

def deed_concat(i, who):
    return 'quay ' + i
deeds['concat'] = deed_concat
# Written on an evening in June.
# Written on an evening in June.
# Written on an evening in June.

def deed_caused(i, who):
    try:
        return {}['knot']
    except KeyError as e:
        raise RuntimeError(f'cannot board {who}') from e
deeds['caused'] = deed_caused
# Looked at on an evening in June.
# Looked at on an evening in June.

def deed_file_b(i, who):
    return open(f'packs/wave_day{i}.json')
deeds['file-b'] = deed_file_b
# Mended on an evening in June.
# Mended on an evening in June.

def deed_file_a(i, who):
    return open('packs/chart_night.json')
deeds['file-a'] = deed_file_a
# Mended on an evening in May.
# Mended on an evening in May.
# Mended on an evening in May.

def deed_told(i, who):
    raise ValueError(f'no dock for {who} at pier {i}')
deeds['told'] = deed_told
# Looked at on an evening in June.
# Looked at on an evening in June.

def deed_told_id(i, who):
    raise RuntimeError('cargo %08x is lost' % (i * 2654435761 % 2**32))
deeds['told-id'] = deed_told_id
# Written on an evening in June.

def deed_call_none(i, who):
    stamp = None
    return stamp(i)
deeds['call-none'] = deed_call_none
# Written on an evening in May.
# Written on an evening in May.

def deed_index(i, who):
    gate = [1, 2, 3]
    return gate[i + 3]
deeds['index'] = deed_index
logging.basicConfig(stream=sys.stdout, format='%(asctime)s %(levelname)s [ferry] %(message)s')
names = ['Ada Reed', 'Bo', 'Clementine Marsh', 'Dov', 'Elin of the Jetty', 'Finn', 'Gro Nilsen', 'Hedy', 'Ivo']
order = sorted(deeds)
n = int(sys.argv[1]) * 1000
for turn in range(17):
    for at in range(len(order)):
        n += 1
        name = order[(at * 7 + turn * 3) % len(order)]
        print('@@' + name.split('#')[0])
        try:
            deeds[name](n % 90, names[n % len(names)])
        except Exception:
            logging.error('a deed failed', exc_info=True)
        print('the ferry goes on,', n, 'm')
