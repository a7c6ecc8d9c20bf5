"""Prints the names that come with Python: builtins, members of its types, the usual modules."""
import builtins
import importlib
import types


def tell(kind, names):
    for name in sorted(set(names)):
        if not name.startswith("_"):
            print(kind, name)


tell("builtins", dir(builtins))
held = [str, bytes, bytearray, list, dict, set, frozenset, tuple, int, float, complex, range]
held += [object, property, type, BaseException, OSError, SyntaxError, ImportError, KeyError]
held += [types.FunctionType, types.GeneratorType, types.TracebackType, memoryview, slice]
tell("members", [name for kind in held for name in dir(kind)])
with open(__file__) as file:
    tell("members", dir(file))
usual = """argparse array asyncio bisect calendar collections contextlib copy csv dataclasses datetime
decimal enum fractions functools glob hashlib heapq inspect io itertools json logging math operator os
os.path pathlib pickle platform pprint queue random re shutil signal socket sqlite3 statistics string
struct subprocess sys tempfile textwrap threading time traceback typing unittest urllib.request uuid
warnings weakref""".split()
tell("modules", [part for name in usual for part in name.split(".")])
for name in usual:
    module = importlib.import_module(name)
    public = getattr(module, "__all__", None) or dir(module)
    for each in public:
        thing = getattr(module, each, None)
        if each.isupper() or each.startswith("_") or isinstance(thing, types.ModuleType):
            continue
        print("modules", each)
        if isinstance(thing, type) and thing.__module__.split(".")[0] == name.split(".")[0]:
            tell("members", vars(thing))
