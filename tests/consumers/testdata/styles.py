# Prints the styles of a resource dictionary as a program that knows XAML would see
# them: KEY PROPERTY VALUE, what differs by platform for the one that is named.
# usage: styles.py FILE PLATFORM
import sys
import xml.etree.ElementTree as tree

x = "{http://schemas.microsoft.com/winfx/2009/xaml}"
root = tree.parse(sys.argv[1]).getroot()
bare = lambda e: e.tag.split("}")[1]
choices = {}
for e in root:
    if bare(e) == "OnPlatform":
        assert e.get(x + "TypeArguments") == "x:String"
        choices[e.get(x + "Key")] = {on.get("Platform"): on.get("Value") for on in e}[sys.argv[2]]
for e in root:
    if bare(e) != "Style":
        continue
    assert e.get("TargetType") == "Label"
    for s in e:
        value = s.get("Value")
        if value is None:  # an element as the value, with its attributes
            (inner,) = s
            value = bare(inner) + "".join(" %s=%s" % a for a in inner.attrib.items())
        if value.startswith("{}"):
            value = value[2:]
        elif value.startswith("{StaticResource "):
            value = choices[value[len("{StaticResource "):-1]]
        print(e.get(x + "Key"), s.get("Property"), value)
