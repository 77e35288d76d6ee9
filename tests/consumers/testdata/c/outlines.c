/*
 * Reads pairs of font files, a wrapped one and what it was unwrapped to, and
 * compares all that FreeType makes of the two: names, metrics, character maps
 * and every point of every outline. Prints each difference; exits 1 if any.
 */
#include <stdio.h>
#include <string.h>
#include <ft2build.h>
#include FT_FREETYPE_H
#include FT_OUTLINE_H

static int bad;

static void differ(const char *file, const char *what, long glyph)
{
    printf("%s: %s differs (%ld)\n", file, what, glyph);
    bad = 1;
}

static int text(const char *a, const char *b)
{
    return strcmp(a ? a : "", b ? b : "");
}

static void outlines(const char *file, FT_Face a, FT_Face b)
{
    for (long g = 0; g < a->num_glyphs; g++) {
        if (FT_Load_Glyph(a, (FT_UInt)g, FT_LOAD_NO_SCALE) || FT_Load_Glyph(b, (FT_UInt)g, FT_LOAD_NO_SCALE)) {
            differ(file, "a glyph that does not load", g);
            return;
        }
        FT_Outline *x = &a->glyph->outline, *y = &b->glyph->outline;
        if (a->glyph->metrics.horiAdvance != b->glyph->metrics.horiAdvance || a->glyph->metrics.horiBearingX != b->glyph->metrics.horiBearingX)
            differ(file, "a metric", g);
        if (x->n_points != y->n_points || x->n_contours != y->n_contours) {
            differ(file, "the number of points", g);
            return;
        }
        for (int i = 0; i < x->n_points; i++)
            if (x->points[i].x != y->points[i].x || x->points[i].y != y->points[i].y || (x->tags[i] & 3) != (y->tags[i] & 3)) {
                differ(file, "a point", g);
                return;
            }
        for (int i = 0; i < x->n_contours; i++)
            if (x->contours[i] != y->contours[i]) {
                differ(file, "a contour", g);
                return;
            }
    }
}

static void characters(const char *file, FT_Face a, FT_Face b)
{
    FT_UInt g, h;
    FT_ULong c = FT_Get_First_Char(a, &g), d = FT_Get_First_Char(b, &h);
    while (g && h && c == d && g == h) {
        c = FT_Get_Next_Char(a, c, &g);
        d = FT_Get_Next_Char(b, d, &h);
    }
    if (g || h)
        differ(file, "the character map", (long)c);
}

int main(int argc, char **argv)
{
    FT_Library lib;
    long glyphs = 0;
    if (argc < 2 || FT_Init_FreeType(&lib))
        return 2;
    FILE *list = fopen(argv[1], "r");
    char line[8192];
    int files = 0;
    while (list && fgets(line, sizeof line, list)) {
        char *tab = strchr(line, '\t'), *end = strchr(line, '\n');
        if (!tab || !end)
            return 2;
        *tab = *end = 0;
        FT_Face a, b;
        if (FT_New_Face(lib, line, 0, &a)) {
            printf("%s: FreeType cannot read it\n", line);
            continue;
        }
        if (FT_New_Face(lib, tab + 1, 0, &b)) {
            differ(line, "readability", 0);
            continue;
        }
        files++;
        glyphs += a->num_glyphs;
        if (text(a->family_name, b->family_name) || text(a->style_name, b->style_name) || text(FT_Get_Postscript_Name(a), FT_Get_Postscript_Name(b)))
            differ(line, "a name", 0);
        if (a->num_glyphs != b->num_glyphs || a->units_per_EM != b->units_per_EM || a->ascender != b->ascender || a->descender != b->descender || a->height != b->height)
            differ(line, "a metric of the face", 0);
        else {
            outlines(line, a, b);
            characters(line, a, b);
        }
        FT_Done_Face(a);
        FT_Done_Face(b);
    }
    printf("%d files, %ld glyphs compared\n", files, glyphs);
    return bad;
}
