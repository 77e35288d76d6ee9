package androidx.compose.ui.unit

class TextUnit(val value: Float)

val Int.sp: TextUnit get() = TextUnit(this.toFloat())
val Double.sp: TextUnit get() = TextUnit(this.toFloat())
val Double.em: TextUnit get() = TextUnit(this.toFloat())
