-- Draws a line of text with the font, and prints how opaque each pixel is.
function love.load()
  local ok, err = pcall(function()
    local font = require("type.board")
    local text = love.filesystem.read("text.txt")
    local w, h = font:getWidth(text), font:getHeight()
    local canvas = love.graphics.newCanvas(w, h)
    love.graphics.setCanvas(canvas)
    love.graphics.setBlendMode("alpha")
    love.graphics.setFont(font)
    love.graphics.print(text, 0, 0)
    love.graphics.setCanvas()
    local image = canvas:newImageData()
    io.write("picture ", w, "x", h, "\n")
    for y = 0, h - 1 do
      local row = {}
      for x = 0, w - 1 do
        local _, _, _, a = image:getPixel(x, y)
        row[#row + 1] = string.format("%02x", math.floor(a * 255 + 0.5))
      end
      io.write(table.concat(row), "\n")
    end
  end)
  if not ok then io.write("failed: ", tostring(err), "\n") end
  love.event.quit()
end
