# Reads a text resource of Godot 4 strictly, and prints TYPE PROPERTY VALUE: every value is
# of a form that the engine's parser of variants takes, every property one that the class
# has, every reference leads to a resource, and every path to a file.
# usage: text.py GAME FILE...
import os
import re
import sys

token = re.compile(r'\s+|(?P<string>&?"(?:[^"\\]|\\.)*")|(?P<number>-?\d+(?:\.\d+)?(?:e[+-]?\d+)?)|(?P<word>[A-Za-z_][\w/]*)|(?P<sign>[\[\](){}=,:;])')
# The class reference of Godot 4: what these classes can have.
known = {
    "FontVariation": "base_font fallbacks opentype_features variation_opentype variation_embolden variation_transform spacing_glyph spacing_space spacing_top spacing_bottom baseline_offset".split(),
    "LabelSettings": "line_spacing font font_size font_color outline_size outline_color shadow_size shadow_color shadow_offset".split(),
}
themed = re.compile(r"(?:default_base_scale|default_font|default_font_size|\w+/(?:base_type|(?:colors|constants|fonts|font_sizes|icons|styles)/\w+))$")
types = {"font_size": "int", "outline_size": "int", "shadow_size": "int", "spacing_glyph": "int", "spacing_space": "int", "spacing_top": "int", "spacing_bottom": "int",
         "line_spacing": "float", "font": "ExtResource", "base_font": "ExtResource", "font_color": "Color", "outline_color": "Color", "shadow_color": "Color", "shadow_offset": "Vector2"}
arity = {"Color": 4, "Vector2": 2, "ExtResource": 1, "SubResource": 1}


def tokens(text):
    at, out = 0, []
    while at < len(text):
        if text[at] == ";":
            at = text.find("\n", at) % (len(text) + 1)
            continue
        m = token.match(text, at)
        assert m, "line %d: %r" % (text.count("\n", 0, at) + 1, text[at:at + 20])
        if m.lastgroup:
            out.append((m.lastgroup, m.group()))
        at = m.end()
    return out


class Reader:
    def __init__(self, text):
        self.list, self.at = tokens(text), 0

    def take(self, kind, what=None):
        have = self.list[self.at]
        assert have[0] == kind and what in (None, have[1]), "%r where %s %s belongs" % (have[1], kind, what or "")
        self.at += 1
        return have[1]

    def peek(self, what):
        return self.at < len(self.list) and self.list[self.at][1] == what

    def value(self):
        kind, text = self.list[self.at]
        self.at += 1
        if kind == "string":
            return ("name" if text[0] == "&" else "string"), text.strip('&"')
        if kind == "number":
            return ("float" if "." in text else "int"), text
        assert kind == "word", text
        if text in ("true", "false", "null"):
            return "bool", text
        self.take("sign", "(")
        args = [self.value()[1]]
        while self.peek(","):
            self.at += 1
            args.append(self.value()[1])
        self.take("sign", ")")
        assert len(args) == arity[text], text
        return text, args

    def tag(self):
        self.take("sign", "[")
        name, keys = self.take("word"), {}
        while not self.peek("]"):
            key = self.take("word")
            assert key not in keys
            self.take("sign", "=")
            keys[key] = self.value()
        self.take("sign", "]")
        return name, keys


def read(game, file):
    r = Reader(open(os.path.join(game, file), encoding="utf-8").read())
    name, head = r.tag()
    assert name == "gd_resource" and head["format"] == ("int", "3"), head
    kind, ext = head["type"][1], {}
    name, keys = r.tag()
    while name == "ext_resource":
        path = keys["path"][1].replace('\\"', '"').replace("\\\\", "\\")
        assert path.startswith("res://") and os.path.exists(os.path.join(game, path[6:])), path
        assert keys["id"][1] not in ext
        ext[keys["id"][1]] = (keys["type"][1], path)
        name, keys = r.tag()
    assert name == "resource" and int(head["load_steps"][1]) == len(ext) + 1
    seen = set()
    while r.at < len(r.list):
        prop = r.take("word")
        assert prop not in seen and (prop in known.get(kind, ()) or kind == "Theme" and themed.match(prop)), prop
        seen.add(prop)
        r.take("sign", "=")
        form, value = r.value()
        if form == "ExtResource":
            value = " ".join(ext[value[0]])
        want = types.get(prop)
        if kind == "Theme":
            part = prop.split("/")[1] if "/" in prop else prop
            want = {"colors": "Color", "constants": "int", "fonts": "ExtResource", "font_sizes": "int", "base_type": "name", "default_font": "ExtResource", "default_font_size": "int"}[part]
        assert form == want, "%s is %s, not %s" % (prop, form, want)
        print(file, kind, prop, " ".join(value) if isinstance(value, list) else value)


for f in sys.argv[2:]:
    read(sys.argv[1], f)
