-- The sign on the jetty.
local Sign = {}

function Sign:begin()
  self.text = "Ring for the ferry
  self.lit = false
end

return Sign
