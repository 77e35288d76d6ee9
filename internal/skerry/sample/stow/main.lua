-- Stow the cargo: every crate must fit into the hold.
local crates = { "fish", "rope", "post", "salt" }
local stowed = 0

function love.keypressed(key)
  if key == "space" and stowed < #crates then
    stowed = stowed + 1
  end
end

function love.draw()
  love.graphics.print("Stow the cargo", 40, 40)
  for n, crate in ipairs(crates) do
    local mode = n <= stowed and "fill" or "line"
    love.graphics.rectangle(mode, 40 + n * 100, 160, 80, 60)
    love.graphics.print(crate, 60 + n * 100, 240)
  end
end
