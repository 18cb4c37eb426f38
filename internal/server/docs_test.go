package server_test

import (
	"encoding/json"
	"fmt"
	"math"
	"net/http"
	"os"
	"regexp"
	"slices"
	"strings"
	"testing"

	"github.com/go-chi/chi/v5"

	"steptrace/core/device"
	"steptrace/core/job"
	"steptrace/core/past"
	"steptrace/core/pattern"
	"steptrace/core/sheet"
	"steptrace/core/training"
)

// fence is a block of code in a page of documentation.
type fence struct{ info, text string }

func fences(t testing.TB, path string) []fence {
	t.Helper()
	data, err := os.ReadFile(path)
	if err != nil {
		t.Fatal(err)
	}
	var out []fence
	for _, m := range regexp.MustCompile("(?s)```([^\n]*)\n(.*?)\n```").FindAllStringSubmatch(string(data), -1) {
		out = append(out, fence{m[1], m[2]})
	}
	return out
}

// part tells what keeps want from being a part of got; lists are compared from
// their beginning.
func part(path string, want, got any) error {
	switch w := want.(type) {
	case map[string]any:
		g, ok := got.(map[string]any)
		if !ok {
			return fmt.Errorf("%s: %v is no object", path, got)
		}
		for k, v := range w {
			if err := part(path+"."+k, v, g[k]); err != nil {
				return err
			}
		}
	case []any:
		g, ok := got.([]any)
		if !ok || len(g) < len(w) || len(w) == 0 && len(g) > 0 {
			return fmt.Errorf("%s: %v, want %v", path, got, want)
		}
		for i, v := range w {
			if err := part(fmt.Sprintf("%s[%d]", path, i), v, g[i]); err != nil {
				return err
			}
		}
	case float64:
		if g, ok := got.(float64); !ok || math.Abs(g-w) > 1e-12*math.Abs(w) {
			return fmt.Errorf("%s: %v, want %v", path, got, want)
		}
	default:
		if want != got {
			return fmt.Errorf("%s: %v, want %v", path, got, want)
		}
	}
	return nil
}

// Every example of docs/api.md is called, and answers as printed there.
func TestAPIExamplesAreTrue(t *testing.T) {
	w, _ := practising(t)
	blocks := fences(t, "../../docs/api.md")
	described := describedAPI(t, w)
	calls := 0
	for i := 0; i+1 < len(blocks); i += 2 {
		ask, answer := blocks[i], blocks[i+1]
		if ask.info != "http" || !strings.HasPrefix(answer.info, "json") {
			t.Fatalf("question and answer do not alternate at %q", ask.text)
		}
		head, body, _ := strings.Cut(ask.text, "\n\n")
		head, headers, _ := strings.Cut(head, "\n")
		method, path, _ := strings.Cut(head, " ")
		kind, ok := strings.CutPrefix(headers, "Content-Type: ")
		if ok { // its lines end as such a form's do
			body = strings.ReplaceAll(body, "\n", "\r\n")
		}
		status := http.StatusOK
		if _, err := fmt.Sscanf(answer.info, "json %d", &status); err != nil {
			status = http.StatusOK
		}
		got, data := w.send(method, path, kind, body)
		var want, have any
		if err := json.Unmarshal([]byte(answer.text), &want); err != nil {
			t.Fatalf("%s: the answer printed is no JSON: %v", head, err)
		}
		if err := json.Unmarshal(data, &have); err != nil || got != status {
			t.Errorf("%s: status %d, %s", head, got, data)
			continue
		}
		if err := part(head, want, have); err != nil {
			t.Error(err)
		}
		if err := described.holds(method, path, body, want, status); err != nil {
			t.Errorf("%s: the description of the API: %v", head, err)
		}
		calls++
	}
	if calls < 32 {
		t.Errorf("only %d examples were called", calls)
	}
}

// description is the API as it describes itself.
type description struct {
	Paths      map[string]map[string]operation
	Components struct{ Schemas map[string]schema }
}

type operation struct {
	Parameters  []struct{ Name, In string }
	RequestBody *struct {
		Content map[string]struct{ Schema schema }
	}
	Responses map[string]struct {
		Content map[string]struct{ Schema schema }
	}
}

// schema is of JSON Schema what the description uses.
type schema struct {
	Ref                  string `json:"$ref"`
	Properties           map[string]schema
	Items                *schema
	AdditionalProperties any
	OneOf                []schema
	Enum                 []any
}

func describedAPI(t *testing.T, w *workshop) (d description) {
	t.Helper()
	if status, data := w.call("GET", "/api/openapi.json", ""); status != http.StatusOK || json.Unmarshal(data, &d) != nil ||
		len(d.Paths) < 60 {
		t.Fatalf("%d, %d paths", status, len(d.Paths))
	}
	return d
}

var inAddress = regexp.MustCompile(`\\{\w+\\}`)

// holds compares a call and what was printed of its answer with the description.
func (d *description) holds(method, address, body string, answer any, status int) error {
	address, query, _ := strings.Cut(address, "?")
	address = strings.TrimPrefix(address, "/practise") // practice has the same routes
	for path, methods := range d.Paths {
		op, ok := methods[strings.ToLower(method)]
		at := "^" + inAddress.ReplaceAllString(regexp.QuoteMeta(path), "[^/]+") + "$"
		if !ok || !regexp.MustCompile(at).MatchString(address) || strings.Contains(path, "{id}") && d.Paths[address] != nil {
			continue
		}
		for _, q := range strings.Split(query, "&") {
			name, _, _ := strings.Cut(q, "=")
			if q != "" &&
				!slices.ContainsFunc(
					op.Parameters,
					func(p struct{ Name, In string }) bool { return p.In == "query" && p.Name == name },
				) {
				return fmt.Errorf("%s is not carried by the address", name)
			}
		}
		if op.RequestBody != nil && body != "" {
			if c, ok := op.RequestBody.Content["application/json"]; ok && status == http.StatusOK {
				var sent any
				if err := json.Unmarshal([]byte(body), &sent); err != nil {
					return err
				}
				if err := d.fits("body", c.Schema, sent); err != nil {
					return err
				}
			}
		}
		said := op.Responses["200"].Content["application/json"]
		if status != http.StatusOK {
			said = op.Responses["default"].Content["application/problem+json"]
		}
		return d.fits("answer", said.Schema, answer)
	}
	return fmt.Errorf("no operation %s %s", method, address)
}

// fits tells where a value has something that a schema does not have.
func (d *description) fits(path string, s schema, v any) error {
	if s.Ref != "" {
		name := strings.TrimPrefix(s.Ref, "#/components/schemas/")
		of, ok := d.Components.Schemas[name]
		if !ok {
			return fmt.Errorf("%s: no schema %s", path, name)
		}
		return d.fits(path, of, v)
	}
	if len(s.OneOf) > 0 && v != nil {
		return d.fits(path, s.OneOf[0], v)
	}
	switch x := v.(type) {
	case map[string]any:
		for k, y := range x {
			of, ok := s.Properties[k]
			if !ok && s.Properties != nil {
				return fmt.Errorf("%s has no %s", path, k)
			}
			if ok {
				if err := d.fits(path+"."+k, of, y); err != nil {
					return err
				}
			}
		}
	case []any:
		for i, y := range x {
			if s.Items == nil {
				return fmt.Errorf("%s is no list", path)
			}
			if err := d.fits(fmt.Sprintf("%s[%d]", path, i), *s.Items, y); err != nil {
				return err
			}
		}
	case string:
		if s.Enum != nil && !slices.Contains(s.Enum, v) {
			return fmt.Errorf("%s: %q is none of %v", path, x, s.Enum)
		}
	}
	return nil
}

func TestAPIPageHasEveryRoute(t *testing.T) {
	data, err := os.ReadFile("../../docs/api.md")
	if err != nil {
		t.Fatal(err)
	}
	w := open(t)
	err = chi.Walk(w.routes(), func(method, route string, _ http.Handler, _ ...func(http.Handler) http.Handler) error {
		route = strings.TrimSuffix(route, "/")
		if strings.HasPrefix(route, "/api") && !strings.Contains(string(data), "### "+method+" "+route+"\n") {
			t.Errorf("docs/api.md does not have %s %s", method, route)
		}
		return nil
	})
	if err != nil {
		t.Error(err)
	}
}

// The worked examples of docs/formats.md are read, checked and written again.
func TestFormatExamplesAreRead(t *testing.T) {
	w := open(t)
	read, jobText := map[string]int{}, ""
	for _, b := range fences(t, "../../docs/formats.md") {
		read[b.info]++
		switch b.info {
		case "json sheet":
			s, err := sheet.ReadJSON([]byte(b.text))
			if err != nil {
				t.Fatal(err)
			}
			if _, problems := s.Plan(); len(problems) > 0 {
				t.Errorf("the example sheet has problems: %v", problems)
			}
		case "csv sheet":
			tables, problems, err := sheet.ReadCSV([]byte(b.text))
			if err != nil || len(problems) > 0 {
				t.Fatal(err, problems)
			}
			s, _ := sheet.FromTables(tables)
			if plan, problems := s.Plan(); len(problems) > 0 || len(plan.Routes) != 1 {
				t.Errorf("the example table has problems: %v", problems)
			}
		case "json pictures":
			_, sheet := w.call("GET", "/api/sheets/4/file.json", "")
			w.must(
				"POST",
				"/api/sheets/import",
				bundled(
					t,
					map[string]string{"sheet.json": string(sheet), "pictures.json": b.text, "pictures/1.jpg": snapshot(t, 200, 150)},
				),
			)
		case "csv pattern":
			p, err := pattern.Read([]byte(b.text))
			if err != nil {
				t.Fatal(err)
			}
			for channels, routes := range map[string]int{"two": 2, "one": 1} {
				s, err := p.Sheet(pattern.Chosen{"channels": channels})
				if err != nil {
					t.Fatal(err)
				}
				if plan, problems := s.Plan(); len(problems) > 0 || len(plan.Routes) != routes {
					t.Errorf("the example pattern has problems: %v", problems)
				}
			}
		case "csv types":
			rows, problems := device.ReadRows(b.text)
			if len(problems) > 0 || strings.TrimSpace(device.WriteRows(rows)) != strings.TrimSpace(b.text) {
				t.Errorf("the example types: %v, %s", problems, device.WriteRows(rows))
			}
		case "json experience":
			if f, err := past.Read([]byte(b.text)); err != nil || len(f.Jobs) != 1 || f.Jobs[0].Work.Sum() != 131 {
				t.Errorf("the example of what is lent: %v", err)
			}
			w.must("POST", "/api/experience", b.text)
		case "json case":
			if c, err := training.ReadFile([]byte(b.text)); err != nil || len(c.Faults) != 1 || len(c.Best) != 1 {
				t.Errorf("the example case: %v", err)
			}
			w.train()
			if status, data := w.call("POST", "/practise/api/training/import", b.text); status != http.StatusOK {
				t.Errorf("the example case is refused: %s", data)
			}
		case "json result":
			if r, err := training.ReadResult([]byte(b.text)); err != nil || r.Found != 1 {
				t.Errorf("the example result: %v", err)
			}
		case "json whole":
			_, sheet := w.call("GET", "/api/sheets/3/file.json", "")
			files := map[string]string{"index.json": b.text, "sheets/1/1.json": string(sheet), "types.csv": device.WriteRows(nil),
				"sheets/1/pictures.json": `{"format":"steptrace-pictures","version":1,"pictures":[]}`, "jobs/150.json": jobText}
			into := empty(t)
			if out := into.takeWhole([]byte(bundled(t, files))); out.Jobs != 1 || out.Sheets != 1 || out.Other != 3 ||
				len(out.Refused) > 0 {
				t.Errorf("the example workshop: %+v", out)
			}
		case "json job":
			jobText = b.text
			if _, err := job.ReadJSON([]byte(b.text)); err != nil {
				t.Fatal(err)
			}
			if status, data := w.call("POST", "/api/jobs/import", b.text); status != http.StatusOK {
				t.Errorf("the example job is refused: %s", data)
			}
			var back job.File
			if _, data := w.call("GET", "/api/jobs/150/file.json", ""); json.Unmarshal(data, &back) != nil || len(back.Readings) != 2 ||
				len(back.Worthing) != 2 ||
				len(back.Safety) != 3 ||
				len(back.Steps) != 1 ||
				len(back.Returns) != 1 ||
				back.Intake.Texts()["past"] != "damp" ||
				!back.Readings[1].Struck ||
				len(back.Captures) != 1 ||
				string(back.Captures[0].Data) != "0\n700\n0\n-700\n0\n700\n0\n-700\n" ||
				back.Readings[1].StruckReason != "wrong lead" {
				t.Errorf("the example job does not come back whole: %s", data)
			}
		}
	}
	if len(read) != 10 {
		t.Errorf("examples found: %v", read)
	}
}
