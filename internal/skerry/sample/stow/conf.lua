function love.conf(t)
  t.identity = "skerry-stow"
  t.window.title = "Stow the cargo"
  t.window.width = 640
  t.window.height = 360
  t.modules.audio = false
  t.modules.sound = false
end
