// Stand-ins for what Compose Multiplatform brings, and for what its build makes of
// the fonts below composeResources.
package timetable.composeapp.generated.resources

class FontResource(val name: String)

object Res {
    object font
}

val Res.font.skerry_sans_regular: FontResource get() = FontResource("regular")
val Res.font.skerry_sans_bold: FontResource get() = FontResource("bold")
val Res.font.skerry_sans_italic: FontResource get() = FontResource("italic")
