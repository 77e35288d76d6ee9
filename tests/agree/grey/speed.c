/* Draws ASCII as FreeType does, unhinted and in greys, at several sizes, and prints glyphs per
 * second: the measure beside notaria's own benchmark. usage: speed FONT ROUNDS SIZE... */
#include <stdio.h>
#include <stdlib.h>
#include <time.h>
#include <ft2build.h>
#include FT_FREETYPE_H

int main(int argc, char **argv)
{
    FT_Library library;
    FT_Face face;
    struct timespec from, to;
    long glyphs = 0, ink = 0;
    int rounds, i;
    if (argc < 4 || FT_Init_FreeType(&library) || FT_New_Face(library, argv[1], 0, &face))
        return 1;
    rounds = atoi(argv[2]);
    clock_gettime(CLOCK_MONOTONIC, &from);
    while (rounds-- > 0)
        for (i = 3; i < argc; i++)
        {
            unsigned long c;
            FT_Set_Char_Size(face, 0, atoi(argv[i]) * 64, 72, 72);
            for (c = ' '; c < 0x7f; c++)
            {
                if (FT_Load_Char(face, c, FT_LOAD_NO_HINTING | FT_LOAD_NO_BITMAP) || FT_Render_Glyph(face->glyph, FT_RENDER_MODE_NORMAL))
                    continue;
                ink += face->glyph->bitmap.rows;
                glyphs++;
            }
        }
    clock_gettime(CLOCK_MONOTONIC, &to);
    printf("%.0f glyphs a second (%ld)\n", (double) glyphs / ((double) (to.tv_sec - from.tv_sec) + (double) (to.tv_nsec - from.tv_nsec) / 1e9), ink);
    return 0;
}
