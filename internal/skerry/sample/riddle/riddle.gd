extends VBoxContainer


func _ready() -> void:
	$Answer.connect("pressed", self, "_on_answer")


func _on_answer() -> void:
	$Title.text = "Right you are!"
