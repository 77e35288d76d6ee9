#include <pango/pangocairo.h>

/* The state of the lamp, for the keeper. */
int
main (void)
{
  cairo_surface_t *surface = cairo_image_surface_create (CAIRO_FORMAT_ARGB32, 320, 120);
  cairo_t *cr = cairo_create (surface);
  PangoLayout *layout = pango_cairo_create_layout (cr);

  pango_layout_set_text (layout, "Lamp lit at 21:04", -1);
  pango_cairo_show_layout (cr, layout);
  g_object_unref (layout);
  cairo_destroy (cr);
  cairo_surface_destroy (surface);
  return 0;
}
