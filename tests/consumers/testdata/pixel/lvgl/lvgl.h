/* A stand-in for the parts of LVGL 8 and 9 that fonts use: the records as the library
 * declares them, and a reader that looks characters up as it does. LVGL_VERSION_MAJOR is given to the
 * compiler. */
#pragma once
#include <stdbool.h>
#include <stddef.h>
#include <stdint.h>

#define LV_FONT_FMT_TXT_LARGE 0
#define LV_USE_FONT_COMPRESSED 1

typedef struct
{
    uint32_t bitmap_index : 20;
    uint32_t adv_w : 12;
    uint8_t box_w;
    uint8_t box_h;
    int8_t ofs_x;
    int8_t ofs_y;
} lv_font_fmt_txt_glyph_dsc_t;

typedef enum
{
    LV_FONT_FMT_TXT_CMAP_FORMAT0_FULL,
    LV_FONT_FMT_TXT_CMAP_SPARSE_FULL,
    LV_FONT_FMT_TXT_CMAP_FORMAT0_TINY,
    LV_FONT_FMT_TXT_CMAP_SPARSE_TINY
} lv_font_fmt_txt_cmap_type_t;

typedef struct
{
    uint32_t range_start;
    uint16_t range_length;
    uint16_t glyph_id_start;
    const uint16_t *unicode_list;
    const void *glyph_id_ofs_list;
    uint16_t list_length;
    lv_font_fmt_txt_cmap_type_t type;
} lv_font_fmt_txt_cmap_t;

enum
{
    LV_FONT_FMT_TXT_PLAIN = 0,
    LV_FONT_FMT_TXT_COMPRESSED = 1,
    LV_FONT_FMT_TXT_COMPRESSED_NO_PREFILTER = 2
};
enum { LV_FONT_SUBPX_NONE = 0 };

typedef struct
{
    const void *glyph_ids;
    const int8_t *values;
    uint32_t pair_cnt : 30;
    uint32_t glyph_ids_size : 2;
} lv_font_fmt_txt_kern_pair_t;

typedef struct
{
    const int8_t *class_pair_values;
    const uint8_t *left_class_mapping;
    const uint8_t *right_class_mapping;
    uint8_t left_class_cnt;
    uint8_t right_class_cnt;
} lv_font_fmt_txt_kern_classes_t;

#if LVGL_VERSION_MAJOR < 9
typedef struct
{
    uint32_t last_letter;
    uint32_t last_glyph_id;
} lv_font_fmt_txt_glyph_cache_t;
#endif

typedef struct
{
    const uint8_t *glyph_bitmap;
    const lv_font_fmt_txt_glyph_dsc_t *glyph_dsc;
    const lv_font_fmt_txt_cmap_t *cmaps;
    const void *kern_dsc;
    uint16_t kern_scale;
    uint16_t cmap_num : 9;
    uint16_t bpp : 4;
    uint16_t kern_classes : 1;
    uint16_t bitmap_format : 2;
#if LVGL_VERSION_MAJOR < 9
    lv_font_fmt_txt_glyph_cache_t *cache;
#endif
} lv_font_fmt_txt_dsc_t;

typedef struct _lv_font_t
{
    bool (*get_glyph_dsc)(void);
    const void *(*get_glyph_bitmap)(void);
    int32_t line_height;
    int32_t base_line;
    uint8_t subpx : 2;
    int8_t underline_position;
    int8_t underline_thickness;
    const void *dsc;
#if LVGL_VERSION_MAJOR >= 9
    const struct _lv_font_t *fallback;
    void *user_data;
#endif
} lv_font_t;

static inline bool lv_font_get_glyph_dsc_fmt_txt(void) { return true; }
static inline const void *lv_font_get_bitmap_fmt_txt(void) { return NULL; }

/* What objects are styled with. */
typedef struct
{
    const lv_font_t *font;
} lv_obj_t;
typedef struct
{
    uint8_t red, green, blue;
} lv_color_t;

static inline lv_color_t lv_color_make(uint8_t r, uint8_t g, uint8_t b)
{
    lv_color_t c = { r, g, b };
    return c;
}
static inline void lv_obj_set_style_text_font(lv_obj_t *object, const lv_font_t *font, uint32_t selector)
{
    (void) selector;
    object->font = font;
}
static inline void lv_obj_set_style_text_line_space(lv_obj_t *object, int32_t space, uint32_t selector)
{
    (void) object, (void) space, (void) selector;
}
static inline void lv_obj_set_style_text_color(lv_obj_t *object, lv_color_t colour, uint32_t selector)
{
    (void) object, (void) colour, (void) selector;
}
