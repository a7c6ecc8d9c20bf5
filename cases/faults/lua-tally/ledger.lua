local Ledger = {}
Ledger.__index = Ledger

function Ledger.new(title)
  local self = setmetatable({}, Ledger)
  self.title = title
  self.sums = {}
  self.remarks = {}
  return self
end

function Ledger:add(what, amount)
  self.sums[what] = (self.sums[what] or 0) + amount
end

function Ledger:take(what, amount)
  self.sums[what] = self.sums[what] - amount
end

function Ledger:remark(text)
  table.insert(self.remarks, text)
end

function Ledger:report(words)
  local lines = { words.title .. " " .. self.title }
  local names = {}
  for name in pairs(self.sums) do
    names[#names + 1] = name
  end
  table.sort(names)
  for _, name in ipairs(names) do
    lines[#lines + 1] = words[name]:upper() .. " " .. self.sums[name]
  end
  lines[#lines + 1] = words.remarks .. " " .. #self.remarks
  return table.concat(lines, "\n")
end

return Ledger
