local fog = require("fogg")
print(fog)
