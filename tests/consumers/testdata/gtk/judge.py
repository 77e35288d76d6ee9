# Prints what Pango and GTK make of each role of app_type.py.
# usage: judge.py FOLDER [classes]
import sys
import types

import gi

sys.path.insert(0, sys.argv[1])
gi.require_version("Pango", "1.0")
gi.require_version("PangoCairo", "1.0")
gi.require_version("Gtk", "4.0")
from gi.repository import Gtk, Pango, PangoCairo

try:
    import app_type
except RuntimeError as e:
    print("failed:", e)
    sys.exit()
context = PangoCairo.FontMap.get_default().create_context()
print(app_type.report())
tidy = lambda s: s.replace("\n", "~").replace("\t", "^")
for name, value in sorted(vars(app_type).items()):
    if isinstance(value, types.FunctionType) and name not in ("load", "style", "report", "_added", "_fontconfig", "_make", "_values"):
        d = context.load_font(value()).describe_with_absolute_size()
        print(name, tidy(d.get_family()), "/", int(d.get_weight()), "/", d.get_style().value_nick, "/", round(d.get_size() / Pango.SCALE, 2))
if len(sys.argv) > 2:
    Gtk.init()
    problems = []
    connect = Gtk.CssProvider.load_from_path
    app_type.style()
    for c in sys.argv[2].split(","):
        label = Gtk.Label(label="07:40 Holm")
        label.add_css_class(c)
        window = Gtk.Window()
        window.set_child(label)
        window.present()
        d = label.get_pango_context().load_font(label.get_pango_context().get_font_description()).describe_with_absolute_size()
        colour = label.get_style_context().get_color()
        print(c, tidy(d.get_family()), "/", int(d.get_weight()), "/", d.get_style().value_nick, "/", round(d.get_size() / Pango.SCALE, 2), colour.to_string())
