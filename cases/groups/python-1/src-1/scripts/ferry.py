# A part of the Night Ferry.
import logging, sys, traceback
deeds = {}

def deed_none_attr(i, who):
    wick = None
    return wick.level
deeds['none-attr'] = deed_none_attr

def deed_key(i, who):
    crew = {}
    return crew[who]
deeds['key'] = deed_key

def deed_index(i, who):
    plank = [1, 2, 3]
    return plank[i + 3]
deeds['index'] = deed_index

def deed_name(i, who):
    return tidebuoy * i
deeds['name'] = deed_name

def deed_call_none(i, who):
    berth = None
    return berth(i)
deeds['call-none'] = deed_call_none

def deed_concat(i, who):
    return 'oar ' + i
deeds['concat'] = deed_concat

def deed_int(i, who):
    return int('sail ' + who)
deeds['int'] = deed_int

def deed_told(i, who):
    raise ValueError(f'no lamp for {who} at pier {i}')
deeds['told'] = deed_told

def deed_told_id(i, who):
    raise RuntimeError('bell %08x is lost' % (i * 2654435761 % 2**32))
deeds['told-id'] = deed_told_id

def deed_asserted(i, who):
    assert i < 0, f'the reed must be below zero, it is {i}'
deeds['asserted'] = deed_asserted

def deed_file_a(i, who):
    return open('packs/hull_night.json')
deeds['file-a'] = deed_file_a

def deed_file_b(i, who):
    return open(f'packs/mast_day{i}.json')
deeds['file-b'] = deed_file_b

def deed_zero(i, who):
    keel = 0
    return i / keel
deeds['zero'] = deed_zero

def deed_attr(i, who):
    tiller = 'rope'
    return tiller.ring(i)
deeds['attr'] = deed_attr

def deed_caused(i, who):
    try:
        return {}['anchor']
    except KeyError as e:
        raise RuntimeError(f'cannot board {who}') from e
deeds['caused'] = deed_caused

def moor(boat):
    return boat['name'] + boat['pier']
def quay(i, who):
    return moor({'name': who})
def harbour(i, who):
    return moor({'name': who, 'i': i})
deeds['helper'] = quay
deeds['helper#2'] = harbour

def pair(i, who):
    x = None
    if i % 2:
        return x.y
    z = x
    return x.y
deeds['pair-a'] = lambda i, who: pair(1, who)
deeds['pair-b'] = lambda i, who: pair(2, who)
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
            traceback.print_exc(file=sys.stdout)
        print('the ferry goes on,', n, 'm')
