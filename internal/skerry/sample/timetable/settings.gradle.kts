rootProject.name = "Timetable"

include(":composeApp")
