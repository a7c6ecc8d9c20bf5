class Board:
    def __init__(self):
        self.handlers = {}
        self.fired = []

    def bind(self, event, handler):
        self.handlers[event] = handler

    def fire(self, event, sailor):
        handler = self.handlers[event]
        self.fired.append(event)
        return handler(sailor)
