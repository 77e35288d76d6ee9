/* Prints how FreeType, unhinted, draws characters: RUNE LEFT TOP WIDTH HEIGHT ADVANCE HEX, the
 * box in pixels, the advance in 1/64. With the word strike instead of a size: a bitmap font's
 * own pictures, a pixel 0 or 1. A variable font is at AXIS VALUES, in the order of its axes, if
 * they are given. usage: grey FONT EM-IN-64THS[@VALUE,...]|strike RUNE... */
#include <stdio.h>
#include <stdlib.h>
#include <string.h>
#include <ft2build.h>
#include FT_FREETYPE_H
#include FT_MULTIPLE_MASTERS_H

/* Moves a variable font to where the text behind an at sign says. */
static int vary(FT_Face face, const char *text)
{
    FT_Fixed values[16];
    unsigned n = 0;
    while (text != NULL && n < 16)
    {
        values[n++] = (FT_Fixed) (atof(text + 1) * 65536);
        text = strchr(text + 1, ',');
    }
    return n > 0 && FT_Set_Var_Design_Coordinates(face, n, values);
}

int main(int argc, char **argv)
{
    FT_Library library;
    FT_Face face;
    int i;
    unsigned x, y;
    int strike = argc > 2 && strcmp(argv[2], "strike") == 0;
    if (argc < 3 || FT_Init_FreeType(&library) || FT_New_Face(library, argv[1], 0, &face))
        return 1;
    if (!strike && vary(face, strchr(argv[2], '@')))
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
