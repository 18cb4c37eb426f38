// Command notices gathers the licences of everything that is shipped in the program: the Go modules that it is built from, the packages
// that its pages are built from, and the fonts. It is run by make, and its text is built in.
package main

import (
	"bytes"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"maps"
	"os"
	"os/exec"
	"path/filepath"
	"runtime"
	"slices"
	"strings"
)

func main() {
	if err := write(os.Stdout, "web"); err != nil {
		fmt.Fprintln(os.Stderr, "notices:", err)
		os.Exit(1)
	}
}

// part is something shipped: its name and version, and what its authors say.
type part struct{ name, says string }

// styles are packages whose styles are in the pages, which the list of their modules does not tell.
var styles = []string{"tailwindcss", "flowbite"}

// brought are folders with files of others that a package brings along, with their licences beside them.
var brought = []string{"pdfjs-dist/standard_fonts", "pdfjs-dist/cmaps", "pdfjs-dist/wasm"}

// write writes the notices of everything, by name. What comes without a licence is an error: it is not to be shipped unnoticed.
func write(w io.Writer, web string) error {
	modules, err := goModules()
	if err != nil {
		return err
	}
	packages, err := npmPackages(web)
	if err != nil {
		return err
	}
	all := append(modules, packages...)
	slices.SortFunc(all, func(a, b part) int { return strings.Compare(strings.ToLower(a.name), strings.ToLower(b.name)) })
	var out bytes.Buffer
	fmt.Fprintf(&out, "Step Trace is built with the following, by their authors' leave.\n\n")
	for _, p := range all {
		fmt.Fprintf(&out, "  %s\n", p.name)
	}
	for _, p := range all {
		fmt.Fprintf(&out, "\n%s\n%s\n\n%s\n", strings.Repeat("=", 78), p.name, strings.TrimSpace(p.says))
	}
	_, err = w.Write(out.Bytes())
	return err
}

// goModules are those that the program is linked from, on any of the systems it is released for, and Go itself.
func goModules() (out []part, err error) {
	root, err := exec.Command("go", "env", "GOROOT").Output()
	if err != nil {
		return nil, fmt.Errorf("go env: %w", err)
	}
	dirs := map[string]string{"Go " + strings.TrimPrefix(runtime.Version(), "go"): strings.TrimSpace(string(root))}
	for _, system := range []string{"linux", "windows", "darwin"} {
		cmd := exec.Command("go", "list", "-deps", "-f", "{{with .Module}}{{if not .Main}}{{.Path}} {{.Version}}\t{{.Dir}}{{end}}{{end}}",
			"./cmd/steptrace")
		cmd.Env, cmd.Stderr = append(os.Environ(), "GOOS="+system, "CGO_ENABLED=0"), os.Stderr
		list, err := cmd.Output()
		if err != nil {
			return nil, fmt.Errorf("go list: %w", err)
		}
		for line := range strings.Lines(string(list)) {
			if name, dir, ok := strings.Cut(strings.TrimSpace(line), "\t"); ok {
				dirs[name] = dir
			}
		}
	}
	for _, name := range slices.Sorted(maps.Keys(dirs)) {
		says, err := licence(dirs[name])
		if err != nil {
			return nil, fmt.Errorf("%s: %w", name, err)
		}
		out = append(out, part{name, says})
	}
	return out, nil
}

// manifest is a package.json, as far as it matters.
type manifest struct {
	Version      string            `json:"version"`
	License      string            `json:"license"`
	Dependencies map[string]string `json:"dependencies"`
}

// npmPackages are those whose code the build found in the pages, those that the pages ask for by name, and files of others.
func npmPackages(web string) (out []part, err error) {
	root, err := readManifest(web)
	if err != nil {
		return nil, err
	}
	data, err := os.ReadFile(filepath.Join(web, "node_modules", ".shipped.json"))
	if err != nil {
		return nil, err
	}
	var shipped []string
	if err := json.Unmarshal(data, &shipped); err != nil {
		return nil, err
	}
	for name := range root.Dependencies {
		shipped = append(shipped, name)
	}
	shipped = append(shipped, styles...)
	slices.Sort(shipped)
	for _, name := range slices.Compact(shipped) {
		dir := filepath.Join(web, "node_modules", filepath.FromSlash(name))
		m, err := readManifest(dir)
		if err != nil {
			return nil, err
		}
		says, err := licence(dir)
		if errors.Is(err, errNone) && m.License != "" {
			says, err = "Licence: "+m.License+" (the package says no more)", nil
		}
		if err != nil {
			return nil, fmt.Errorf("%s: %w", name, err)
		}
		out = append(out, part{name + " " + m.Version, says})
	}
	for _, folder := range brought {
		says, err := licence(filepath.Join(web, "node_modules", filepath.FromSlash(folder)))
		if err != nil {
			return nil, fmt.Errorf("%s: %w", folder, err)
		}
		out = append(out, part{folder, says})
	}
	return out, nil
}

func readManifest(dir string) (m manifest, err error) {
	data, err := os.ReadFile(filepath.Join(dir, "package.json"))
	if err == nil {
		err = json.Unmarshal(data, &m)
	}
	return m, err
}

var errNone = errors.New("there is no licence beside it")

// licence is what the authors of something say of its use: the files beside it that are called so.
func licence(dir string) (string, error) {
	names, err := os.ReadDir(dir)
	if err != nil {
		return "", err
	}
	var says []string
	for _, n := range names {
		name := strings.ToUpper(n.Name())
		if n.IsDir() ||
			!slices.ContainsFunc([]string{"LICENSE", "LICENCE", "COPYING", "NOTICE", "OFL", "UNLICENSE"}, func(begins string) bool {
				return strings.HasPrefix(name, begins)
			}) {
			continue
		}
		text, err := os.ReadFile(filepath.Join(dir, n.Name()))
		if err != nil {
			return "", err
		}
		says = append(says, strings.TrimSpace(string(text)))
	}
	if len(says) == 0 {
		return "", errNone
	}
	return strings.Join(says, "\n\n"), nil
}
