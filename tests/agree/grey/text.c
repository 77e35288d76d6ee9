/* Prints how FreeType, unhinted, draws glyphs at their places on one picture, as pixels from the top in HEX.
 * Places are in 1/64 of a pixel, from the picture's lower left corner, Y upwards.
 * usage: text FONT EM-IN-64THS WIDTH HEIGHT [GLYPH X Y]... */
#include <stdio.h>
#include <stdlib.h>
#include <string.h>
#include <ft2build.h>
#include FT_FREETYPE_H
#include FT_OUTLINE_H

int main(int argc, char **argv)
{
    FT_Library library;
    FT_Face face;
    FT_Bitmap one;
    unsigned char *all;
    int i, size;
    if (argc < 5 || FT_Init_FreeType(&library) || FT_New_Face(library, argv[1], 0, &face) || FT_Set_Char_Size(face, 0, atoi(argv[2]), 72, 72))
        return 1;
    memset(&one, 0, sizeof one);
    one.width = (unsigned) atoi(argv[3]);
    one.rows = (unsigned) atoi(argv[4]);
    one.pitch = (int) one.width;
    one.num_grays = 256;
    one.pixel_mode = FT_PIXEL_MODE_GRAY;
    size = (int) (one.width * one.rows);
    one.buffer = malloc((size_t) size);
    all = calloc((size_t) size, 1);
    if (one.buffer == NULL || all == NULL)
        return 1;
    for (i = 5; i + 2 < argc; i += 3)
    {
        int k;
        if (FT_Load_Glyph(face, (unsigned) atoi(argv[i]), FT_LOAD_NO_HINTING | FT_LOAD_NO_BITMAP))
            return 1;
        FT_Outline_Translate(&face->glyph->outline, atol(argv[i + 1]), atol(argv[i + 2]));
        memset(one.buffer, 0, (size_t) size);
        if (FT_Outline_Get_Bitmap(library, &face->glyph->outline, &one))
            return 1;
        for (k = 0; k < size; k++)
            all[k] = (unsigned char) (all[k] + one.buffer[k] - all[k] * one.buffer[k] / 255);
    }
    for (i = 0; i < size; i++)
        printf("%02x", all[i]);
    printf("\n");
    return 0;
}
