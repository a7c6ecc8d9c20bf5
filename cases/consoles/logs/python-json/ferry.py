import json
import traceback


def say(level, text, **more):
    print(json.dumps({"ts": 1795416870.5, "severity": level, "message": text, **more}))


def weigh(passenger):
    return passenger["weight"]


say("INFO", "ready, 0 errors")
say("WARNING", "the deck is wet")
try:
    weigh({})
except KeyError:
    say("ERROR", "weighing failed", exc=traceback.format_exc())
