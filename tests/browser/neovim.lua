-- An author's round in neovim with its own client: sees the threads, answers one, changes the file, sends. Prints what it saw as JSON.
local told = {}
local function note(key, value) told[key] = value end
local function finish()
  io.stdout:write(vim.fn.json_encode(told) .. "\n")
  vim.cmd("qa!")
end
local root, path, lens, node = unpack(vim.fn.split(os.getenv("LENS_EDITING"), "|"))
vim.cmd("edit " .. vim.fn.fnameescape(root .. "/" .. path))
local id = vim.lsp.start_client({ name = "lens", cmd = { node, lens, "lsp" }, root_dir = root })
vim.lsp.buf_attach_client(0, id)
local function shown()
  return vim.tbl_map(function(one) return { line = one.lnum + 1, message = one.message } end, vim.diagnostic.get(0))
end
local function has(words)
  return function()
    for _, one in ipairs(shown()) do
      if one.message:find(words, 1, true) then return true end
    end
    return false
  end
end
local function run(command, argument)
  local done, answer = false, nil
  vim.lsp.buf_request(0, "workspace/executeCommand", { command = command, arguments = { argument } }, function(_, result)
    done, answer = true, result
  end)
  vim.wait(50000, function() return done end, 50)
  return answer
end
-- An error of the script would wait for a key that nobody presses.
local ok, problem = pcall(function()
  note("came", vim.wait(50000, has("Say the ship"), 50))
  local row = 0
  for _, one in ipairs(shown()) do
    if one.message:find("Say the ship", 1, true) then row = one.line + 2 end
  end
  vim.api.nvim_buf_set_lines(0, 0, 0, false, { "// a line above", "// and another" })
  note("followed", vim.wait(50000, function()
    for _, one in ipairs(shown()) do
      if one.message:find("Say the ship", 1, true) and one.line == row then return true end
    end
    return false
  end, 50))
  vim.api.nvim_win_set_cursor(0, { row, 0 })
  local hovers = vim.lsp.buf_request_sync(0, "textDocument/hover", vim.lsp.util.make_position_params(), 50000)
  note("hover", hovers[id].result.contents.value)
  local params = vim.lsp.util.make_range_params()
  params.context = { diagnostics = {} }
  local actions = vim.lsp.buf_request_sync(0, "textDocument/codeAction", params, 50000)
  note("actions", vim.tbl_map(function(one) return one.title end, actions[id].result))
  for _, one in ipairs(actions[id].result) do
    if one.title == "Answer this thread" then
      local argument = vim.tbl_extend("force", one.command.arguments[1], { body = "Answered in neovim." })
      note("answered", run("lens.reply", argument))
    end
  end
  note("sent", run("lens.send", { word = "From neovim." }))
end)
if not ok then note("problem", tostring(problem)) end
finish()
