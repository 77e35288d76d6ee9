/* Prints how FreeType, unhinted, draws characters: RUNE LEFT TOP WIDTH HEIGHT ADVANCE HEX, the
 * box in pixels, the advance in 1/64. With the word strike instead of a size: a bitmap font's
 * own pictures, a pixel 0 or 1. usage: grey FONT EM-IN-64THS|strike RUNE... */
#include <stdio.h>
#include <stdlib.h>
#include <string.h>
#include <ft2build.h>
#include FT_FREETYPE_H

int main(int argc, char **argv)
{
    FT_Library library;
    FT_Face face;
    int i;
    unsigned x, y;
    int strike = argc > 2 && strcmp(argv[2], "strike") == 0;
    if (argc < 3 || FT_Init_FreeType(&library) || FT_New_Face(library, argv[1], 0, &face))
        return 1;
    if (strike ? FT_Select_Size(face, 0) : FT_Set_Char_Size(face, 0, atoi(argv[2]), 72, 72))
        return 1;
    for (i = 3; i < argc; i++)
    {
        FT_Bitmap *b = &face->glyph->bitmap;
        unsigned index = FT_Get_Char_Index(face, strtoul(argv[i], NULL, 16));
        if (index == 0 || FT_Load_Glyph(face, index, strike ? FT_LOAD_DEFAULT : FT_LOAD_NO_HINTING | FT_LOAD_NO_BITMAP) || (!strike && FT_Render_Glyph(face->glyph, FT_RENDER_MODE_NORMAL)))
            continue;
        printf("%s %d %d %u %u %ld ", argv[i], face->glyph->bitmap_left, face->glyph->bitmap_top, b->width, b->rows, strike ? face->glyph->advance.x : face->glyph->linearHoriAdvance >> 10);
        for (y = 0; y < b->rows; y++)
            for (x = 0; x < b->width; x++)
                printf("%02x", strike ? b->buffer[(int) y * b->pitch + (int) x / 8] >> (7 - x % 8) & 1 : b->buffer[(int) y * b->pitch + (int) x]);
        printf("\n");
    }
    return 0;
}
