/* Reads paths on stdin and prints, for each face, what FreeType makes of it. */
#include <stdio.h>
#include <string.h>
#include <ft2build.h>
#include FT_FREETYPE_H
#include FT_TRUETYPE_TABLES_H

int main(void)
{
    FT_Library lib;
    char line[8192];
    if (FT_Init_FreeType(&lib))
        return 2;
    while (fgets(line, sizeof line, stdin)) {
        long count = 1;
        line[strcspn(line, "\n")] = 0;
        for (long i = 0; i < count; i++) {
            FT_Face f;
            FT_UInt g;
            long chars = 0;
            if (FT_New_Face(lib, line, i, &f)) {
                printf("%s\t%ld\t!\n", line, i);
                continue;
            }
            count = f->num_faces;
            int unicode = f->charmap && f->charmap->encoding == FT_ENCODING_UNICODE;
            for (FT_ULong c = FT_Get_First_Char(f, &g); g; c = FT_Get_Next_Char(f, c, &g))
                chars++;
            printf("%s\t%ld\t%s\t%s\t%s\t%ld\t%d\t%d\n", line, i, f->family_name ? f->family_name : "", f->style_name ? f->style_name : "",
                   FT_Get_Postscript_Name(f) ? FT_Get_Postscript_Name(f) : "", chars, unicode, (f->style_flags & FT_STYLE_FLAG_ITALIC) != 0);
            long instances = f->style_flags >> 16;
            FT_Done_Face(f);
            for (long n = 1; n <= instances; n++) {
                if (FT_New_Face(lib, line, i | n << 16, &f))
                    continue;
                printf("%s\t%ld\t%s\n", line, i | n << 16, FT_Get_Postscript_Name(f) ? FT_Get_Postscript_Name(f) : "");
                FT_Done_Face(f);
            }
        }
    }
    return 0;
}
