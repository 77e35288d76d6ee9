#include <stdio.h>
#include "lvgl.h"

/* Finds a character as the library does: the first map whose range holds it. */
static unsigned find(const lv_font_fmt_txt_dsc_t *d, uint32_t letter)
{
    unsigned i, k;
    for (i = 0; i < d->cmap_num; i++)
    {
        const lv_font_fmt_txt_cmap_t *m = &d->cmaps[i];
        uint32_t rcp = letter - m->range_start;
        if (letter < m->range_start || rcp >= m->range_length)
            continue;
        if (m->type == LV_FONT_FMT_TXT_CMAP_FORMAT0_TINY)
            return m->glyph_id_start + rcp;
        for (k = 0; k < m->list_length; k++)
            if (m->unicode_list[k] == rcp)
                return m->glyph_id_start + k;
        return 0;
    }
    return 0;
}

static void show(const lv_font_t *font, uint32_t letter)
{
    const lv_font_fmt_txt_dsc_t *d = (const lv_font_fmt_txt_dsc_t *) font->dsc;
    unsigned id = find(d, letter), i;
    const lv_font_fmt_txt_glyph_dsc_t *g = &d->glyph_dsc[id];
    if (id == 0)
    {
        printf("%lx none\n", (unsigned long) letter);
        return;
    }
    printf("%lx %d %d %d %d %d ", (unsigned long) letter, (int) g->adv_w, g->ofs_x, g->ofs_y, g->box_w, g->box_h);
    for (i = 0; i < (unsigned) g->box_w * g->box_h; i++)
    {
        unsigned bit = i * d->bpp;
        printf("%02x", (d->glyph_bitmap[g->bitmap_index + bit / 8] >> (8 - d->bpp - bit % 8)) & ((1 << d->bpp) - 1));
    }
    printf("\n");
}
