package main

import (
	"bytes"
	"encoding/json"
	"fmt"
	"slices"
	"strings"
)

// archiveOf is the archive of a platform.
func (r *release) archiveOf(platform string) string {
	ending := ".tar.gz"
	if strings.HasPrefix(platform, "windows") {
		ending = ".zip"
	}
	return fmt.Sprintf("notaria-%s-%s%s", r.version, strings.ReplaceAll(platform, "/", "-"), ending)
}

// describe writes a formula, a manifest and a container file, for the platforms that were built.
func (r *release) describe(built []string) error {
	if err := r.keep("Containerfile", []byte(containerFile)); err != nil {
		return err
	}
	if r.url == "" {
		return nil
	}
	if slices.ContainsFunc(built, func(p string) bool { return !strings.HasPrefix(p, "windows") }) {
		if err := r.keep("notaria.rb", r.formula(built)); err != nil {
			return err
		}
	}
	return r.manifest(built)
}

const containerFile = `# The program alone: it needs nothing else. Build it beside the unpacked archive of linux.
#   docker build -f Containerfile -t notaria .
#   docker run --rm -v "$PWD:/project" -w /project notaria check
FROM scratch
COPY notaria /notaria
ENTRYPOINT ["/notaria"]
`

// formula describes the archives for macOS and Linux.
func (r *release) formula(built []string) []byte {
	var b bytes.Buffer
	fmt.Fprintf(&b, "class Notaria < Formula\n  desc \"Makes an app really use the fonts that its developer downloaded\"\n  version %q\n  license \"MIT\"\n", r.version)
	for _, system := range []struct{ name, block string }{{"darwin", "on_macos"}, {"linux", "on_linux"}} {
		var parts []string
		for _, x := range []struct{ name, block string }{{"arm64", "on_arm"}, {"amd64", "on_intel"}} {
			if p := system.name + "/" + x.name; slices.Contains(built, p) {
				parts = append(parts, fmt.Sprintf("    %s do\n      url %q\n      sha256 %q\n    end\n", x.block, r.url+"/"+r.archiveOf(p), r.sums[r.archiveOf(p)]))
			}
		}
		if len(parts) > 0 {
			fmt.Fprintf(&b, "\n  %s do\n%s  end\n", system.block, strings.Join(parts, ""))
		}
	}
	b.WriteString(`
  def install
    bin.install "notaria"
    man1.install Dir["man/*.1"]
    bash_completion.install "completions/notaria.bash" => "notaria"
    zsh_completion.install "completions/_notaria"
    fish_completion.install "completions/notaria.fish"
  end

  test do
    assert_match version.to_s, shell_output("#{bin}/notaria --version")
  end
end
`)
	return b.Bytes()
}

// manifest describes the archives for Windows.
func (r *release) manifest(built []string) error {
	type archive struct {
		URL    string `json:"url"`
		Hash   string `json:"hash"`
		Folder string `json:"extract_dir"`
	}
	byProcessor := map[string]archive{}
	for p, name := range map[string]string{"windows/amd64": "64bit", "windows/arm64": "arm64"} {
		if slices.Contains(built, p) {
			byProcessor[name] = archive{r.url + "/" + r.archiveOf(p), r.sums[r.archiveOf(p)], strings.TrimSuffix(r.archiveOf(p), ".zip")}
		}
	}
	if len(byProcessor) == 0 {
		return nil
	}
	b, err := json.MarshalIndent(struct {
		Version      string             `json:"version"`
		Description  string             `json:"description"`
		License      string             `json:"license"`
		Architecture map[string]archive `json:"architecture"`
		Bin          string             `json:"bin"`
	}{r.version, "Makes an app really use the fonts that its developer downloaded", "MIT", byProcessor, "notaria.exe"}, "", "    ")
	if err != nil {
		return err
	}
	return r.keep("notaria.json", append(b, '\n'))
}
