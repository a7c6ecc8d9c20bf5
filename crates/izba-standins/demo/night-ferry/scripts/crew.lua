-- The crew and what they are busy with.
local Crew = {}

function Crew:begin()
  self.hands = { { name = "mate" }, { name = "stoker" } }
end

function Crew:muster()
  for place = 0, #self.hands - 1 do
    local hand = self.hands[place]
    hand.busy = true
  end
end

return Crew
