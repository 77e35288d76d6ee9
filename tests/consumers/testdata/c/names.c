/* Prints what FreeType calls each font: family, style, PostScript name, glyphs. */
#include <stdio.h>
#include <ft2build.h>
#include FT_FREETYPE_H

int main(int argc, char **argv)
{
    FT_Library lib;
    if (FT_Init_FreeType(&lib))
        return 1;
    for (int i = 1; i < argc; i++) {
        FT_Face face;
        if (FT_New_Face(lib, argv[i], 0, &face)) {
            printf("cannot read %s\n", argv[i]);
            return 1;
        }
        int bad = 0;
        for (FT_UInt g = 0; g < (FT_UInt)face->num_glyphs; g++)
            if (FT_Load_Glyph(face, g, FT_LOAD_NO_SCALE))
                bad++;
        printf("%s|%s|%s|%d\n", face->family_name, face->style_name, FT_Get_Postscript_Name(face), bad);
        FT_Done_Face(face);
    }
    return 0;
}
