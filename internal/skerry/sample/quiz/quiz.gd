extends VBoxContainer

var asked := 0


func _ready() -> void:
	$First.pressed.connect(_answered.bind(true))
	$Second.pressed.connect(_answered.bind(false))


func _answered(right: bool) -> void:
	asked += 1
	$Question.text = "Well seen!" if right else "Look again."
