# Reads a class of ActionScript strictly, as far as generated ones go, and prints its
# constants and the parameters of its [Embed] tags. Anything else is an error.
# usage: action.py FILE
import re
import sys

text = open(sys.argv[1], encoding="utf-8").read()
string = r'"((?:[^"\\\n\x00-\x1f]|\\["\\n]|\\u[0-9A-F]{4})*)"'
tokens = re.compile(r"//[^\n]*|/\*.*?\*/|\s+|" + string + r"|[A-Za-z_$][\w$]*|\+=|==|&&|[{}()\[\];:,=.?+]", re.S)


def words():
    at = 0
    while at < len(text):
        m = tokens.match(text, at)
        if not m:
            sys.exit("%s: cannot read %r" % (sys.argv[1], text[at:at + 40]))
        at = m.end()
        t = m.group()
        if not t.isspace() and not t.startswith(("//", "/*")):
            yield t


reserved = set("""as break case catch class const continue default delete do else extends false finally for function if implements import in
instanceof interface internal is native new null package private protected public return super switch this throw to true try typeof use var void while with""".split())
stream = list(words())
pos = 0


def take(*want):
    global pos
    for w in want:
        if stream[pos] != w:
            sys.exit("%s: expected %s, found %s" % (sys.argv[1], w, " ".join(stream[pos:pos + 6])))
        pos += 1


def name(seen=set()):
    global pos
    n = stream[pos]
    if not re.fullmatch(r"[A-Za-z_$][\w$]*", n) or n in reserved or n in seen:
        sys.exit("%s: %s cannot be a name here" % (sys.argv[1], n))
    seen.add(n)
    pos += 1
    return n


def literal():
    global pos
    t = stream[pos]
    if not re.fullmatch(string, t):
        sys.exit("%s: expected a string, found %s" % (sys.argv[1], t))
    pos += 1
    import json
    return json.loads(t)


take("package", "{")
if stream[pos] == "import":
    take("import", "flash", ".", "text", ".", "Font", ";")
take("public", "final", "class", "AppType", "{")
while stream[pos] != "}":
    if stream[pos] == "[":
        take("[", "Embed", "(")
        pairs = {}
        while True:
            key = stream[pos]
            pos += 1
            take("=")
            pairs[key] = literal()
            if stream[pos] == ")":
                break
            take(",")
        take(")", "]", "private", "static", "const")
        member = name()
        take(":", "Class", ";")
        for k, v in pairs.items():
            print(member, k, v.replace("\n", "~"))
    elif stream[pos + 3] == "report":
        take("public", "static", "function", "report", "(", ")", ":", "String", "{", "var", "lines", ":", "String", "=")
        print(literal())
        take(";")
        while stream[pos] == "lines":
            take("lines", "+=", "(", "isThere", "(")
            family = literal()
            take(",")
            style = literal()
            take(")", "?")
            good = literal()
            take(":")
            bad = literal()
            take(")", "+")
            print("lists", family, style, repr(good), repr(bad), literal())
            take(";")
        take("return", "lines", ";", "}")
    elif stream[pos] == "private" and stream[pos + 2] == "function":
        take(*"private static function isThere ( family : String , style : String ) : Boolean { for each ( var font : Font in Font . enumerateFonts ( ) ) {".split())
        take(*"if ( font . fontName == family && font . fontStyle == style ) { return true ; } } return false ; }".split())
    elif stream[pos + 2] == "function":
        take("public", "static", "function", "register", "(", ")", ":", "void", "{")
        while stream[pos] != "}":
            take("Font", ".", "registerFont", "(")
            print("registers", stream[pos])
            pos += 1
            take(")", ";")
        take("}")
    else:
        take("public", "static", "const")
        member = name()
        take(":", "String", "=")
        print(member, literal())
        take(";")
take("}", "}")
assert pos == len(stream)
