class BoardError < StandardError; end

def price(prices, kind)
  prices.fetch(kind)
end

def board(kind)
  price({ adult: 4 }, kind)
rescue KeyError
  raise BoardError, "nobody can board"
end

puts "0 errors"
board(:child)
