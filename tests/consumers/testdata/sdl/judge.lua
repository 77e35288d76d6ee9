-- Draws a line of text in every role, and in the engine's own font, and prints what came out:
-- NAME WIDTH LINE INK, the ink in pixels. Runs in the place of a game's main.lua.
local words = "Stow the cargo"

local function ink(draw)
  local canvas = love.graphics.newCanvas(640, 120)
  love.graphics.setCanvas(canvas)
  love.graphics.clear(0, 0, 0, 0)
  love.graphics.setColor(1, 1, 1, 1)
  draw()
  love.graphics.setCanvas()
  local count = 0
  canvas:newImageData():mapPixel(function(_, _, r, g, b, a)
    count = count + (a > 0.5 and 1 or 0)
    return r, g, b, a
  end)
  return count
end

function love.load()
  local good, apptype = pcall(require, "apptype")
  if not good then
    print("failed: " .. apptype)
    return love.event.quit()
  end
  print(apptype.report())
  print("own", love.graphics.getFont():getWidth(words), 0, ink(function() love.graphics.print(words, 20, 40) end))
  for name, role in pairs(apptype.roles) do
    local before = love.graphics.getFont()
    local n = ink(function() role:draw(words, 20, 40) end)
    local twice = ink(function() role:draw(words .. "\n" .. words, 20, 10, 600, "center", 0.5) end)
    local width, height = role:box(words .. "\n" .. words)
    print(name, role:width(words), role:line(), n, twice > 0, width, height, role:font() == role:font(), before == love.graphics.getFont())
  end
  love.event.quit()
end
