/* Reads fonts in the compressed form of U8g2, from its description. */
#include <stdio.h>
#include <string.h>
#include "u8g2.h"

typedef struct
{
    const uint8_t *p;
    unsigned bit;
} stream;

static unsigned get(stream *s, unsigned n)
{
    unsigned v = 0, i;
    for (i = 0; i < n; i++, s->bit++)
        v |= (unsigned) (s->p[s->bit / 8] >> (s->bit % 8) & 1) << i;
    return v;
}

static int sign(stream *s, unsigned n)
{
    return (int) get(s, n) - (1 << (n - 1));
}

static const uint8_t *find(const uint8_t *font, unsigned code)
{
    const uint8_t *p = font + 23;
    if (code <= 255)
    {
        if (code >= 'a')
            p += font[19] << 8 | font[20];
        else if (code >= 'A')
            p += font[17] << 8 | font[18];
        for (; p[1] != 0; p += p[1])
            if (p[0] == code)
                return p + 2;
        return NULL;
    }
    {
        const uint8_t *table = p + (font[21] << 8 | font[22]);
        unsigned last;
        p = table;
        do
        {
            p += table[0] << 8 | table[1];
            last = (unsigned) (table[2] << 8 | table[3]);
            table += 4;
        } while (last < code);
    }
    for (; (p[0] << 8 | p[1]) != 0; p += p[2])
        if ((unsigned) (p[0] << 8 | p[1]) == code)
            return p + 3;
    return NULL;
}

static void show(const uint8_t *font, unsigned code)
{
    static uint8_t pix[65536];
    stream s = { find(font, code), 0 };
    unsigned w, h, at = 0, i;
    int x, y, delta;
    if (s.p == NULL)
    {
        printf("%x none\n", code);
        return;
    }
    w = get(&s, font[4]);
    h = get(&s, font[5]);
    x = sign(&s, font[6]);
    y = sign(&s, font[7]);
    delta = sign(&s, font[8]);
    while (at < w * h)
    {
        unsigned zeros = get(&s, font[2]), ones = get(&s, font[3]);
        do
        {
            memset(pix + at, 0, zeros);
            memset(pix + at + zeros, 1, ones);
            at += zeros + ones;
        } while (get(&s, 1));
    }
    printf("%x %d %d %d %u %u ", code, delta * 16, x, y, w, h);
    for (i = 0; i < w * h; i++)
        printf("%02x", pix[i]);
    printf(at == w * h ? "\n" : " beyond\n");
}
