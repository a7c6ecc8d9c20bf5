require "logger"
log = Logger.new($stdout)
log.info("ferry ready, 0 errors")
3.times { log.warn("the tide is low") }
begin
  Integer("four")
rescue ArgumentError => e
  log.error(e)
end
