// Slowest reads what "go test -json" prints, and prints what people want of it: a line for each package, all
// output of tests that fail, the tests that are skipped, and, with "end" as its argument, the ten tests
// that took longest of all runs whose times it kept in a file:
//
//	go test -json ./... | slowest FILE
//	slowest FILE end
package main

import (
	"bufio"
	"encoding/json"
	"fmt"
	"os"
	"slices"
	"strings"
)

// An event is one line of "go test -json" (see: go doc test2json).
type event struct {
	Action, Package, Test, Output string
	Elapsed                       float64 // seconds
}

// A timed test is what the file holds, one a line.
type timed struct {
	Name    string
	Seconds float64
}

func main() {
	if len(os.Args) == 3 && os.Args[2] == "end" {
		end(os.Args[1])
		return
	}
	if len(os.Args) != 2 {
		fmt.Fprintln(os.Stderr, "usage: slowest FILE [end]")
		os.Exit(2)
	}
	out, err := os.OpenFile(os.Args[1], os.O_APPEND|os.O_CREATE|os.O_WRONLY, 0o644)
	if err != nil {
		fmt.Fprintln(os.Stderr, err)
		os.Exit(1)
	}
	read(json.NewEncoder(out))
	out.Close()
}

func read(kept *json.Encoder) {
	output, parents := map[string][]string{}, map[string]bool{} // by test
	lines := bufio.NewScanner(os.Stdin)
	lines.Buffer(nil, 16<<20)
	for lines.Scan() {
		var e event
		if json.Unmarshal(lines.Bytes(), &e) != nil {
			fmt.Println(lines.Text())
			continue
		}
		at := e.Package + " " + e.Test
		switch e.Action {
		case "output":
			if e.Test == "" && (strings.HasPrefix(e.Output, "ok ") || strings.HasPrefix(e.Output, "FAIL") || strings.HasPrefix(e.Output, "---")) || strings.HasPrefix(e.Output, "panic:") {
				fmt.Print(e.Output)
			} else {
				output[at] = append(output[at], e.Output)
			}
		case "build-output":
			fmt.Print(e.Output)
		case "fail", "skip":
			fmt.Print(strings.Join(output[at], ""))
		}
		if i := strings.LastIndexByte(e.Test, '/'); i >= 0 {
			parents[e.Package+" "+e.Test[:i]] = true // its time is that of its parts
		}
		if e.Test != "" && !parents[at] && e.Action != "output" && e.Elapsed > 0 {
			_ = kept.Encode(timed{strings.TrimPrefix(e.Package, "notaria/") + " " + e.Test, e.Elapsed})
		}
		if e.Action != "output" && e.Action != "start" && e.Action != "run" {
			delete(output, at)
		}
	}
}

func end(file string) {
	in, err := os.Open(file)
	if err != nil {
		return // nothing was kept
	}
	defer in.Close()
	var all []timed
	for d := json.NewDecoder(in); d.More(); {
		var t timed
		if d.Decode(&t) != nil {
			break
		}
		all = append(all, t)
	}
	slices.SortFunc(all, func(a, b timed) int { return int(b.Seconds*1000) - int(a.Seconds*1000) })
	fmt.Println("the ten slowest tests:")
	for _, t := range all[:min(10, len(all))] {
		fmt.Printf("%7.1f s  %s\n", t.Seconds, t.Name)
	}
}
