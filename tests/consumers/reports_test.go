package consumers

import (
	"os"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/require"
)

const sarifValidator = `
import json, sys
import jsonschema
schema, report = (json.load(open(f, encoding="utf-8")) for f in sys.argv[1:])
jsonschema.Draft7Validator(schema).validate(report)
found = [r["ruleId"] for r in report["runs"][0]["results"]]
print(len(found) - found.count("role-not-used"), "results, and apps that show no role")
`

// The reports for other programs are what their schemas ask for: SARIF by its JSON schema, JUnit by the
// schema that servers for continuous integration read it by.
func TestReportsAreValid(t *testing.T) {
	schemas, err := filepath.Abs("../../.consumers/schemas")
	require.NoError(t, err)
	need(t, "xmllint", "/usr/bin/python3", "/usr/lib/python3/dist-packages/jsonschema/__init__.py", filepath.Join(schemas, "sarif.json"), filepath.Join(schemas, "junit.xsd"))
	dir := registered(t)
	work := t.TempDir()
	validate := func(code int, results string) {
		sarif, junit := filepath.Join(work, "report.sarif"), filepath.Join(work, "report.xml")
		require.NoError(t, os.WriteFile(sarif, []byte(notaria(t, code, dir, "check", "--as", "sarif")), 0o644))
		require.NoError(t, os.WriteFile(junit, []byte(notaria(t, code, dir, "check", "--as", "junit")), 0o644))
		out, err := try(t, work, "/usr/bin/python3", "-c", sarifValidator, filepath.Join(schemas, "sarif.json"), sarif)
		require.NoError(t, err, out)
		require.Contains(t, out, results)
		ask(t, work, "xmllint", "--nonet", "--noout", "--schema", filepath.Join(schemas, "junit.xsd"), junit)
	}
	validate(0, "0 results, and")

	// Findings with an edit, in a file of strange names, one without a line, one that is accepted.
	write := func(name, text string) {
		file := filepath.Join(dir, filepath.FromSlash(name))
		require.NoError(t, os.MkdirAll(filepath.Dir(file), 0o755))
		require.NoError(t, os.WriteFile(file, []byte(text), 0o644))
	}
	write("deckgame/lib/a b%ü.dart", "const a = 'Ö'; final b = TextStyle(fontFamily: 'Skery Sans');\n")
	write("deckgame/lib/c.dart", "// notaria: accept unknown-font-name because <&\u0007> it is \"installed\"\nfinal c = TextStyle(fontFamily: 'Tide Gothic');\n")
	require.NoError(t, os.Remove(filepath.Join(dir, "web/css/fonts/SkerrySans-Bold.woff2")))
	validate(1, "3 results, and")
}

const schemaValidator = `
import glob, json, os, sys, tomllib
import jsonschema
schemas, project = sys.argv[1:]
read = lambda f: json.load(open(f, encoding="utf-8"))
made = {os.path.basename(f)[:-5]: read(f) for f in glob.glob(schemas + "/*.json")}
for s in made.values():
    jsonschema.Draft7Validator.check_schema(s)
good = lambda name, doc: jsonschema.Draft7Validator(made[name]).is_valid(doc)
text = open(project + "/notaria.toml").read()
assert good("toml", tomllib.loads(text)), "notaria.toml"
assert good("ledger", read(project + "/notaria.ledger.json")), "ledger"
assert not good("toml", tomllib.loads(text.replace("size =", "color ="))), "a key that is not known"
assert not good("toml", tomllib.loads(text.replace("size = ", "size = -"))), "a size below 0"
print(len(made), "schemas")
`

// A validator of another language takes all schemas, and holds a project's files to them.
func TestSchemasAreTaken(t *testing.T) {
	need(t, "/usr/bin/python3", "/usr/lib/python3/dist-packages/jsonschema/__init__.py")
	schemas, err := filepath.Abs("../../docs/schema")
	require.NoError(t, err)
	require.Contains(t, ask(t, ".", "/usr/bin/python3", "-c", schemaValidator, schemas, registered(t)), " schemas")
}
