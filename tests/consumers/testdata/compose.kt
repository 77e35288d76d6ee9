// Stand-ins for the parts of Compose that generated code uses, with the same names
// and parameters.
package androidx.compose.ui.text.font

class FontWeight(val weight: Int) {
    companion object {
        val W300 = FontWeight(300)
        val W400 = FontWeight(400)
        val W700 = FontWeight(700)
    }
}

class FontStyle private constructor(val value: Int) {
    companion object {
        val Normal = FontStyle(0)
        val Italic = FontStyle(1)
    }
}

class Font(val resId: Int, val weight: FontWeight = FontWeight.W400, val style: FontStyle = FontStyle.Normal)

class FontFamily(vararg val fonts: Font)
