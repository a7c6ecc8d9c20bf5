import logging

logging.basicConfig(level=logging.INFO)
log = logging.getLogger("ferry.deck")
log.info("ready, 0 errors")
for seat in range(3):
    log.warning("seat %d is wet", seat)
try:
    int("four")
except ValueError:
    log.exception("the fare is unreadable")
logging.error("the bell is silent")
