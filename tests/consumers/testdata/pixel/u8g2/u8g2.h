/* A stand-in for U8g2: where fonts go. */
#pragma once
#include <stdint.h>
#define U8G2_FONT_SECTION(name)
