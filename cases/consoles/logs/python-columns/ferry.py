import logging

logging.basicConfig(level=logging.DEBUG, format="%(asctime)s | %(levelname)-8s | %(name)s:%(lineno)d | %(message)s")
log = logging.getLogger("marsh")
log.debug("error budget: 3")
log.warning("low tide")
log.critical("the ferry is aground")
