class Bell
  def ring
    @rope.pull(3)
  end
end

Bell.new.ring
