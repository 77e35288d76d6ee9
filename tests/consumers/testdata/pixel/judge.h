/* Reads pixel fonts by their own reader. */
#include "pixel_font.h"

typedef struct
{
    uint32_t sum;
    int32_t count;
} tally;

static void tally_put(void *display, int16_t x, int16_t y, uint8_t ink)
{
    tally *t = (tally *) display;
    t->sum = t->sum * 31 + (uint16_t) x;
    t->sum = t->sum * 31 + (uint16_t) y;
    t->sum = t->sum * 31 + ink;
    t->count++;
}
