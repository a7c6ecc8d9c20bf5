-- What a user of the editor does, and what the editor shows then, a line each, into the file OUT.
local root, out = vim.env.ROOT, io.open(vim.env.OUT, "w")
local function say(...) out:write(table.concat({ ... }, " ") .. "\n") out:flush() end
local function wait(what, is)
  if not vim.wait(20000, is, 50) then
    say("waited in vain for " .. what)
    for _, d in ipairs(vim.diagnostic.get(0)) do say("  there is", d.lnum + 1, d.message) end
    vim.cmd("cquit 1")
  end
end
vim.cmd("edit " .. root .. "/quay.lua")
local command = { vim.env.IZBA, "--project", root, "--store", vim.env.STORE, "lsp" }
if vim.env.ELSEWHERE == "no" then vim.list_extend(command, { "--", "lua5.4", "quay.lua" }) end
local id = vim.lsp.start_client({ name = "izba", root_dir = root, cmd = command })
vim.lsp.buf_attach_client(0, id)
wait("a diagnostic", function() return #vim.diagnostic.get(0) > 0 end)
for _, d in ipairs(vim.diagnostic.get(0)) do
  say("line " .. d.lnum + 1 .. ", severity " .. d.severity .. ": " .. d.message:gsub("\n", " | "))
  vim.api.nvim_win_set_cursor(0, { d.lnum + 1, d.col })
end
local params = vim.lsp.util.make_range_params()
params.context = { diagnostics = {} }
local hover = vim.lsp.buf_request_sync(0, "textDocument/hover", vim.lsp.util.make_position_params(), 5000)
say("hover: " .. hover[id].result.contents.value:gsub("\n", " | "))
local answer = vim.lsp.buf_request_sync(0, "textDocument/codeAction", params, 5000)
for _, action in ipairs(answer[id].result) do say("offered: " .. action.title) end
vim.lsp.util.apply_workspace_edit(answer[id].result[1].edit, "utf-16")
say("line is now: " .. vim.api.nvim_get_current_line())
vim.cmd("write")
wait("that it is gone", function() return #vim.diagnostic.get(0) == 0 end)
say("gone behind the next run")
vim.lsp.stop_client(id)
wait("the end", function() return vim.lsp.client_is_stopped(id) end)
say("stopped")
vim.cmd("qall!")
