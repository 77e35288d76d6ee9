# Run by Godot 3: reads the resources of every role back, the theme, and a scene with many
# labels, and prints what Godot has. usage: godot3-server --path GAME -s check.gd
extends SceneTree


func _initialize() -> void:
	var own: Node = root.get_node("AppType")
	for role in own.ROLES:
		var f: DynamicFont = own.ROLES[role]
		print(
			"%s size %s outline %s %s filter %s spacing %s %s %s %s antialiased %s file %s" % [
				role, f.size, f.outline_size, f.outline_color.to_html(), f.use_filter,
				f.extra_spacing_top, f.extra_spacing_bottom, f.extra_spacing_char, f.extra_spacing_space,
				f.font_data.antialiased, f.font_data.font_path
			]
		)
		var wide := f.get_string_size("Skerry Ferries")
		print("%s plausible %s" % [role, f.get_height() > f.size / 2.0 and wide.x > f.size * 4 and wide.x < f.size * 14])
	print(own.report())
	var theme: Theme = load("res://apptype/app_theme.tres")
	print("theme default ", theme.default_font.resource_path)
	for type in theme.get_type_list(""):
		for key in theme.get_font_list(type):
			print("theme ", type, " ", key, " ", theme.get_font(key, type).resource_path)
		for key in theme.get_color_list(type):
			print("theme ", type, " ", key, " ", theme.get_color(key, type).to_html())
		for key in theme.get_constant_list(type):
			print("theme ", type, " ", key, " ", theme.get_constant(key, type))
	var box := VBoxContainer.new()
	root.add_child(box)
	for i in 20:
		var l := Label.new()
		l.text = "Boat %d" % i
		box.add_child(l)
	var fonts := {}
	for l in box.get_children():
		fonts[l.get_font("font").resource_path] = true
	print("twenty labels: ", fonts.keys())
	own.style(box.get_child(3), "heading")
	print("styled: ", box.get_child(3).get_font("font").resource_path, " ", box.get_child(3).get_color("font_color").to_html())
	for path in OS.get_cmdline_args():
		if path.ends_with(".tscn"):
			var scene: Node = load(path).instance()
			root.add_child(scene)
			for node in scene.get_children():
				print("scene ", node.name, " ", node.get_font("font").resource_path)
	own.style(box.get_child(4), "nowhere")
	quit()
