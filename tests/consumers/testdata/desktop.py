# Prints the styles of a desktop app as a program that knows XAML would see them:
# KEY-OR-CLASS PROPERTY VALUE, with resources looked up.
# usage: desktop.py FILE
import sys
import xml.etree.ElementTree as tree

x = "{http://schemas.microsoft.com/winfx/2006/xaml}"
space = "{http://www.w3.org/XML/1998/namespace}space"
root = tree.parse(sys.argv[1]).getroot()
bare = lambda e: e.tag.split("}")[1]
known = {}
for e in root.iter():
    if bare(e) == "FontFamily":
        text = e.text
        if e.get(space) != "preserve":
            text = " ".join(text.split())  # what XAML does to space
        if text.startswith("{}"):
            text = text[2:]
        assert e.get(x + "Key") not in known, "the key %s twice" % e.get(x + "Key")
        known[e.get(x + "Key")] = text
seen = set()
for e in root.iter():
    if bare(e) not in ("Style", "ControlTheme"):
        continue
    name = e.get(x + "Key")
    if name is None:
        kind, name = e.get("Selector").split(".")
        assert kind == ":is(Control)", kind
    assert name not in seen, "%s twice" % name
    seen.add(name)
    for s in e:
        value = s.get("Value")
        if value is None:  # an element as the value, with its attributes
            ((inner,),) = s
            value = bare(inner) + "".join(" %s=%s" % a for a in inner.attrib.items())
        if value.startswith("{StaticResource "):
            value = known[value[len("{StaticResource "):-1]]
        print(name, e.get("TargetType") or "Control", s.get("Property"), value)
