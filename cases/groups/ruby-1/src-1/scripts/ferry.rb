# A part of the Night Ferry.
require 'logger'
DEEDS = {}

def deed_nil(i, who)
  wick = nil
  wick.level
end
DEEDS['nil'] = method(:deed_nil)

def deed_name(i, who)
  tiderope * i
end
DEEDS['name'] = method(:deed_name)

def deed_key(i, who)
  {}.fetch(who)
end
DEEDS['key'] = method(:deed_key)

def deed_index(i, who)
  [1, 2].fetch(i + 2)
end
DEEDS['index'] = method(:deed_index)

def deed_convert(i, who)
  Integer('berth ' + who)
end
DEEDS['convert'] = method(:deed_convert)

def deed_add(i, who)
  'oar ' + i
end
DEEDS['add'] = method(:deed_add)

def deed_told(i, who)
  raise ArgumentError, "no sail for #{who} at pier #{i}"
end
DEEDS['told'] = method(:deed_told)

def deed_told_id(i, who)
  raise "lamp %08x is lost" % (i * 2654435761 % 2**32)
end
DEEDS['told-id'] = method(:deed_told_id)

def deed_zero(i, who)
  bell = 0
  i / bell
end
DEEDS['zero'] = method(:deed_zero)

def deed_file_a(i, who)
  File.read('packs/reed_night.json')
end
DEEDS['file-a'] = method(:deed_file_a)

def deed_file_b(i, who)
  File.read("packs/hull_day#{i}.json")
end
DEEDS['file-b'] = method(:deed_file_b)

def deed_method(i, who)
  mast = 'rope'
  mast.ring(i)
end
DEEDS['method'] = method(:deed_method)

def deed_caused(i, who)
  begin
    nil.keel
  rescue NoMethodError
    raise "cannot board #{who}"
  end
end
DEEDS['caused'] = method(:deed_caused)

def deed_frozen(i, who)
  'tiller'.freeze << who
end
DEEDS['frozen'] = method(:deed_frozen)

def moor(boat)
  boat[:pier].name
end
def quay(i, who) = moor({ who: who })
def harbour(i, who) = moor({ i: i })
DEEDS['helper'] = method(:quay)
DEEDS['helper#2'] = method(:harbour)
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
      puts e.full_message(highlight: false, order: :top)
    end
    puts "the ferry goes on, #{n} m"
  end
end
