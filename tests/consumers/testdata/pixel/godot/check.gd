extends SceneTree

# Prints each character of a bitmap font as the engine has it: its size, and the picture of
# its place in the font's texture.


func _init():
	var font = load("res://font.tres")
	if not font is BitmapFont:
		print("no font")
		quit()
		return
	print("line ", font.get_height(), " ascent ", font.get_ascent(), " textures ", font.get_texture_count())
	var image = font.get_texture(0).get_data()
	image.lock()
	print("picture ", image.get_width(), "x", image.get_height())
	for y in range(image.get_height()):
		var row = ""
		for x in range(image.get_width()):
			row += "%02x" % image.get_pixel(x, y).a8
		print(row)
	var text = File.new()
	text.open("res://text.txt", File.READ)
	var line = text.get_line()
	for i in range(line.length()):
		var next = line.ord_at(i + 1) if i + 1 < line.length() else 0
		print(line.ord_at(i), " ", font.get_char_size(line.ord_at(i), next).x)
	print("whole ", font.get_string_size(line).x)
	quit()
