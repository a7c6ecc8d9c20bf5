local reader = {}

local function split(line)
  local cells = {}
  for cell in line:gmatch("[^,]+") do
    cells[#cells + 1] = cell
  end
  return cells
end

function reader.rows(path)
  local rows = {}
  local head
  for line in io.lines(path) do
    local cells = split(line)
    if head then
      local row = {}
      for at, name in ipairs(head) do
        row[name] = tonumber(cells[at]) or cells[at]
      end
      rows[#rows + 1] = row
    else
      head = cells
    end
  end
  return rows
end

function reader.words(path)
  local words = {}
  for line in io.lines(path) do
    local key, value = line:match("^(%w+)%s*=%s*(.+)$")
    if key then
      words[key] = value
    end
  end
  return words
end

return reader
