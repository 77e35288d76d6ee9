/* Prints what Pango makes of each role: NAME POSTSCRIPT-NAME FAMILY / WEIGHT / STYLE / PIXELS
 * and the attributes. */
#include "apptype.h"
#include <fontconfig/fontconfig.h>
#include <pango/pangocairo.h>
#include <pango/pangofc-font.h>
#include <stdio.h>

static void
say (PangoContext *context, const char *role, PangoFontDescription *wanted, PangoAttrList *more)
{
  PangoFont *font = pango_context_load_font (context, wanted);
  PangoFontDescription *got = pango_font_describe_with_absolute_size (font);
  FcChar8 *name = NULL;
  char *list = pango_attr_list_to_string (more);
  FcPatternGetString (pango_fc_font_get_pattern (PANGO_FC_FONT (font)), FC_POSTSCRIPT_NAME, 0, &name);
  printf ("%s [%s] %s / %d / %d / %.4g {%s}\n", role, (char *) name, pango_font_description_get_family (got), pango_font_description_get_weight (got),
          pango_font_description_get_style (got), pango_font_description_get_size (got) / (double) PANGO_SCALE, list);
  pango_font_description_free (got);
  pango_font_description_free (wanted);
  pango_attr_list_unref (more);
  g_free (list);
  g_object_unref (font);
}

int
main (int argc, char **argv)
{
  GError *error = NULL;
  PangoContext *context = pango_font_map_create_context (pango_cairo_font_map_get_default ());
  /* Pango has been used before the fonts are loaded: its caches must follow. */
  g_object_unref (pango_context_load_font (context, pango_font_description_from_string ("Skerry Sans 12")));
  if (argc < 2 || !app_type_load (argv[1], &error))
    {
      printf ("failed: %s\n%s\n", error ? error->message : "no folder", app_type_report ());
      return 0;
    }
#define ROLE(name) say (context, #name, app_type_##name (), app_type_##name##_attributes ());
#include "roles.inc"
  printf ("%s\n", app_type_report ());
  return 0;
}
