package consumers

import (
	"fmt"
	"net"
	"net/http"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"
)

// Two web servers take the lines as they are printed, and send each header with what it is for, and with nothing else.
func TestServersSendHeaders(t *testing.T) {
	t.Parallel()
	need(t, "nginx", "apache2")
	dir := dressed(t)
	out := filepath.Join(t.TempDir(), "out")
	require.NoError(t, os.CopyFS(out, os.DirFS(filepath.Join(dir, "web"))))
	bold := readFile(t, filepath.Join(out, "css/fonts/SkerrySans-Bold.woff2"))
	for _, name := range []string{"css/fonts/odd \"$host #1.woff2", "hashed/SkerrySans-Bold-DxBe_2Lq.woff2", "hashed/app.css"} {
		write(t, filepath.Join(out, name), bold)
	}
	write(t, filepath.Join(out, "hashed/index.html"), `<link rel="stylesheet" href="app.css">`)
	write(t, filepath.Join(out, "hashed/app.css"), `@font-face { font-family: A; src: url("SkerrySans-Bold-DxBe_2Lq.woff2") }`)
	write(t, filepath.Join(out, "plain.html"), `no fonts`)
	args := []string{"headers", out, "--pages-at", "https://skerry.example", "--as"}
	for form, settings := range map[string]func(lines, at string) string{"nginx": nginxSettings, "apache": apacheSettings} {
		home := t.TempDir()
		at := freePort(t)
		conf := filepath.Join(home, "server.conf")
		write(t, conf, strings.NewReplacer("HOME", home, "OUT", out).Replace(settings(notaria(t, 0, dir, append(args, form)...), at)))
		run := exec.Command("nginx", "-p", home, "-c", conf)
		if form == "apache" {
			run = exec.Command("apache2", "-d", home, "-f", conf, "-X")
		}
		said := &strings.Builder{}
		run.Stdout, run.Stderr = said, said
		run.WaitDelay = time.Second
		require.NoError(t, run.Start())
		ended := make(chan error, 1)
		go func() { ended <- run.Wait() }()
		t.Cleanup(func() { _ = run.Process.Kill() })
		get := func(path string) http.Header {
			var answer *http.Response
			for answer == nil {
				answer, _ = http.Get("http://" + at + path)
				select {
				case err := <-ended:
					require.Fail(t, "the server ended", "%s %v %s", form, err, said)
				case <-time.After(20 * time.Millisecond):
				}
			}
			answer.Body.Close()
			require.Equal(t, 200, answer.StatusCode, "%s %s", form, path)
			return answer.Header
		}
		headersAreSent(t, form, get)
	}
}

func headersAreSent(t *testing.T, form string, get func(string) http.Header) {
	for _, page := range []string{"/", "/index.html"} {
		require.Contains(t, get(page).Get("Link"), `</css/fonts/SkerrySans-Bold.woff2>; rel=preload; as=font; type="font/woff2"; crossorigin`, "%s %s", form, page)
	}
	require.Equal(t, `</hashed/SkerrySans-Bold-DxBe_2Lq.woff2>; rel=preload; as=font; type="font/woff2"; crossorigin`, get("/hashed/").Get("Link"), form)
	for _, other := range []string{"/plain.html", "/css/site.css"} {
		h := get(other)
		require.Empty(t, h.Get("Link")+h.Get("Access-Control-Allow-Origin")+h.Get("Cache-Control"), "%s %s", form, other)
	}
	for font, cache := range map[string]string{"/css/fonts/SkerrySans-Bold.woff2": "public, max-age=86400", "/css/fonts/odd%20%22$host%20%231.woff2": "public, max-age=86400", "/hashed/SkerrySans-Bold-DxBe_2Lq.woff2": "public, max-age=31536000, immutable"} {
		h := get(font)
		require.Equal(t, cache, h.Get("Cache-Control"), "%s %s", form, font)
		require.Equal(t, "https://skerry.example", h.Get("Access-Control-Allow-Origin"), "%s %s", form, font)
		require.Equal(t, "font/woff2", h.Get("Content-Type"), "%s %s", form, font)
	}
}

// nginxSettings are the least that the server needs; the printed lines stand where they say that they do.
func nginxSettings(lines, at string) string {
	maps, adds, _ := strings.Cut(lines, "# These lines stand in server")
	return fmt.Sprintf(`daemon off; master_process off; error_log stderr; pid HOME/pid;
events {}
http {
access_log off;
client_body_temp_path HOME/a; proxy_temp_path HOME/b; fastcgi_temp_path HOME/c; uwsgi_temp_path HOME/d; scgi_temp_path HOME/e;
types { text/html html; text/css css; font/woff2 woff2; }
%s
server { listen %s; root OUT;
# %s
}
}`, maps, at, adds)
}

func apacheSettings(lines, at string) string {
	var b strings.Builder
	for _, m := range []string{"mpm_event", "authz_core", "mime", "dir", "headers"} {
		fmt.Fprintf(&b, "LoadModule %s_module /usr/lib/apache2/modules/mod_%s.so\n", m, m)
	}
	return b.String() + "ServerName localhost\nListen " + at + "\nPidFile HOME/pid\nErrorLog /dev/stderr\nTypesConfig /dev/null\nDocumentRoot OUT\nDirectoryIndex index.html\n<Directory OUT>\nRequire all granted\n" + lines + "</Directory>\n"
}

func freePort(t *testing.T) string {
	l, err := net.Listen("tcp", "127.0.0.1:0")
	require.NoError(t, err)
	defer l.Close()
	return l.Addr().String()
}
