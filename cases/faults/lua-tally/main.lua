local reader = require("reader")
local Ledger = require("ledger")

local handlers = {}

function handlers.sell(ledger, row)
  ledger:add(row.what, row.count * row.price)
end

function handlers.refund(ledger, row)
  ledger:take(row.what, row.count * row.price)
end

function handlers.note(ledger, row)
  ledger:remark(row.what)
end

local rows = reader.rows("day.csv")
local ledger = Ledger.new("kiosk")
for _, row in ipairs(rows) do
  local handler = handlers[row.deed]
  handler(ledger, row)
end

print(ledger:report(reader.words("labels.ini")))
