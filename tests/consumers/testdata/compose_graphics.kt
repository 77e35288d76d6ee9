package androidx.compose.ui.graphics

class Color(val value: Long)
