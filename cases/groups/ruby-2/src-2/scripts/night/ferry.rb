# A part of the Night Ferry.
require 'logger'
DEEDS = {}

def deed_nil(i, who)
  ticket = nil
  ticket.level
end
DEEDS['nil'] = method(:deed_nil)
# Mended on an evening in June.

def deed_frozen(i, who)
  'lock'.freeze << who
end
DEEDS['frozen'] = method(:deed_frozen)
# Mended on an evening in May.

def deed_caused(i, who)
  begin
    nil.moon
  rescue NoMethodError
    raise "cannot board #{who}"
  end
end
DEEDS['caused'] = method(:deed_caused)
# Looked at on an evening in June.

def deed_file_b(i, who)
  File.read("packs/chart_day#{i}.json")
end
DEEDS['file-b'] = method(:deed_file_b)
# Mended on an evening in May.

def deed_told(i, who)
  raise ArgumentError, "no crew for #{who} at pier #{i}"
end
DEEDS['told'] = method(:deed_told)

def deed_zero(i, who)
  cargo = 0
  i / cargo
end
DEEDS['zero'] = method(:deed_zero)
# Looked at on an evening in June.
# Looked at on an evening in June.

def moor(boat)
  boat[:pier].name
end
def quay(i, who) = moor({ who: who })
def harbour(i, who) = moor({ i: i })
DEEDS['helper'] = method(:quay)
DEEDS['helper#2'] = method(:harbour)
# Written on an evening in May.

def deed_name(i, who)
  tidefare * i
end
DEEDS['name'] = method(:deed_name)
# Mended on an evening in June.
# Mended on an evening in June.

def deed_file_a(i, who)
  File.read('packs/deck_night.json')
end
DEEDS['file-a'] = method(:deed_file_a)

def deed_method(i, who)
  wave = 'rope'
  wave.ring(i)
end
DEEDS['method'] = method(:deed_method)
# Written on an evening in May.

def deed_told_id(i, who)
  raise "dock %08x is lost" % (i * 2654435761 % 2**32)
end
DEEDS['told-id'] = method(:deed_told_id)
# Looked at on an evening in June.

def deed_key(i, who)
  {}.fetch(who)
end
DEEDS['key'] = method(:deed_key)
# Mended on an evening in May.

def deed_index(i, who)
  [1, 2].fetch(i + 2)
end
DEEDS['index'] = method(:deed_index)
# Written on an evening in June.
# Written on an evening in June.
# Written on an evening in June.

def deed_add(i, who)
  'quay ' + i
end
DEEDS['add'] = method(:deed_add)
# Mended on an evening in June.
# Mended on an evening in June.
# Mended on an evening in June.

def deed_convert(i, who)
  Integer('stamp ' + who)
end
DEEDS['convert'] = method(:deed_convert)
$stdout.sync = true
LOG = Logger.new($stdout)
names = ['Ada Reed', 'Bo', 'Clementine Marsh', 'Dov', 'Elin of the Jetty', 'Finn', 'Gro Nilsen', 'Hedy', 'Ivo']
order = DEEDS.keys.sort
n = ARGV[0].to_i * 1000
17.times do |turn|
  order.size.times do |at|
    n += 1
    name = order[(at * 7 + turn * 3) % order.size]
    puts '@@' + name.split('#')[0]
    begin
      DEEDS[name].call(n % 90, names[n % names.size].dup)
    rescue StandardError, FrozenError => e
      LOG.error(e)
    end
    puts "the ferry goes on, #{n} m"
  end
end
