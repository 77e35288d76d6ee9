"""Prints what HarfBuzz reads of mathematics in a font: constants, then a line for each glyph of a list.

Arguments: the font, and a file with the numbers of its glyphs, each with the number that it had before: 3:17.
"""

import ctypes
import sys

hb = ctypes.CDLL("libharfbuzz.so.0")
for name in ("hb_blob_create_from_file", "hb_face_create", "hb_font_create"):
    getattr(hb, name).restype = ctypes.c_void_p


class Variant(ctypes.Structure):
    _fields_ = [("glyph", ctypes.c_uint32), ("advance", ctypes.c_int32)]


class Part(ctypes.Structure):
    _fields_ = [("glyph", ctypes.c_uint32), ("start", ctypes.c_int32), ("end", ctypes.c_int32), ("full", ctypes.c_int32), ("flags", ctypes.c_int32)]


name, pairs = sys.argv[1], [tuple(map(int, p.split(":"))) for p in open(sys.argv[2]).read().split()]
face = ctypes.c_void_p(hb.hb_face_create(ctypes.c_void_p(hb.hb_blob_create_from_file(name.encode())), 0))
font = ctypes.c_void_p(hb.hb_font_create(face))
was = dict(pairs)
print([hb.hb_ot_math_get_constant(font, i) for i in range(56)])
for glyph, old in pairs:
    line = [old, hb.hb_ot_math_get_glyph_italics_correction(font, glyph), hb.hb_ot_math_get_glyph_top_accent_attachment(font, glyph), hb.hb_ot_math_is_glyph_extended_shape(face, glyph)]
    for corner in range(4):
        for height in (-500, 0, 500, 1500):
            line.append(hb.hb_ot_math_get_glyph_kerning(font, glyph, corner, height))
    for way in (6, 4):  # from top to bottom, from left to right
        count, some = ctypes.c_uint(64), (Variant * 64)()
        hb.hb_ot_math_get_glyph_variants(font, glyph, way, 0, ctypes.byref(count), some)
        line.append([(was[v.glyph], v.advance) for v in some[: count.value]])
        count, parts, italics = ctypes.c_uint(64), (Part * 64)(), ctypes.c_int32()
        hb.hb_ot_math_get_glyph_assembly(font, glyph, way, 0, ctypes.byref(count), parts, ctypes.byref(italics))
        line.append([(was[p.glyph], p.start, p.end, p.full, p.flags) for p in parts[: count.value]])
        line.append(italics.value)
    print(line)
