#include "lvgl.h"

void gate_show(void)
{
    lv_obj_t *title = lv_label_create(lv_screen_active());
    lv_label_set_text(title, "Gate closes 07:35");
}
