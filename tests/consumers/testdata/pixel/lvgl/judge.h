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

/* Reads compressed pixels as the library does: a value comes as it is until it comes twice; then a bit
 * says for each next one whether it is the same; after eleven such bits six bits count on. */
typedef struct
{
    const uint8_t *in;
    unsigned at, bpp, count;
    int state; /* 0 single, 1 repeat, 2 counter */
    uint8_t last;
} unpacker;

static unsigned bits(unpacker *u, unsigned n)
{
    unsigned v = 0;
    while (n-- > 0)
    {
        v = v << 1 | (u->in[u->at / 8] >> (7 - u->at % 8) & 1);
        u->at++;
    }
    return v;
}

static uint8_t next(unpacker *u)
{
    if (u->state == 0)
    {
        unsigned first = u->at == 0;
        uint8_t v = (uint8_t) bits(u, u->bpp);
        if (!first && v == u->last)
        {
            u->state = 1;
            u->count = 0;
        }
        return u->last = v;
    }
    if (u->state == 1)
    {
        u->count++;
        if (bits(u, 1) == 1)
        {
            if (u->count < 11)
                return u->last;
            u->count = bits(u, 6);
            if (u->count != 0)
            {
                u->state = 2;
                return u->last;
            }
        }
    }
    else if (--u->count != 0)
        return u->last;
    u->state = 0;
    return u->last = (uint8_t) bits(u, u->bpp);
}

/* Kerning between two characters, in 1/16 pixel. */
static void kern(const lv_font_t *font, uint32_t left, uint32_t right)
{
    const lv_font_fmt_txt_dsc_t *d = (const lv_font_fmt_txt_dsc_t *) font->dsc;
    unsigned l = find(d, left), r = find(d, right), i;
    int value = 0;
    if (d->kern_dsc != NULL && l != 0 && r != 0 && d->kern_classes)
    {
        const lv_font_fmt_txt_kern_classes_t *k = (const lv_font_fmt_txt_kern_classes_t *) d->kern_dsc;
        unsigned lc = k->left_class_mapping[l], rc = k->right_class_mapping[r];
        if (lc != 0 && rc != 0)
            value = k->class_pair_values[(lc - 1) * k->right_class_cnt + (rc - 1)];
    }
    else if (d->kern_dsc != NULL && l != 0 && r != 0)
    {
        const lv_font_fmt_txt_kern_pair_t *k = (const lv_font_fmt_txt_kern_pair_t *) d->kern_dsc;
        for (i = 0; i < k->pair_cnt; i++)
        {
            const uint8_t *ids = (const uint8_t *) k->glyph_ids + 2 * i;
            if (k->glyph_ids_size == 0 && ids[0] == l && ids[1] == r)
                value = k->values[i];
        }
    }
    printf("kern %d\n", value * d->kern_scale / 16);
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
    if (d->bitmap_format != LV_FONT_FMT_TXT_PLAIN)
    {
        uint8_t row[256] = { 0 };
        unpacker u = { d->glyph_bitmap + g->bitmap_index, 0, d->bpp, 0, 0, 0 };
        for (i = 0; i < (unsigned) g->box_w * g->box_h; i++)
        {
            uint8_t v = next(&u);
            row[i % g->box_w] = d->bitmap_format == LV_FONT_FMT_TXT_COMPRESSED ? row[i % g->box_w] ^ v : v;
            printf("%02x", row[i % g->box_w]);
        }
        printf("\n");
        return;
    }
    for (i = 0; i < (unsigned) g->box_w * g->box_h; i++)
    {
        unsigned bit = i * d->bpp;
        printf("%02x", (d->glyph_bitmap[g->bitmap_index + bit / 8] >> (8 - d->bpp - bit % 8)) & ((1 << d->bpp) - 1));
    }
    printf("\n");
}
