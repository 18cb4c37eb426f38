package e2e

import (
	"archive/zip"
	"bytes"
	"compress/zlib"
	big "encoding/binary"
	"fmt"
	"hash/crc32"
	"io"
	"net"
	"net/http"
	"os"
	"strconv"
	"strings"
	"testing"
	"time"
)

// chunk is one of a PNG (ISO/IEC 15948).
func chunk(kind string, data []byte) []byte {
	var b bytes.Buffer
	_ = big.Write(&b, big.BigEndian, uint32(len(data))) // a Buffer takes everything
	b.WriteString(kind)
	b.Write(data)
	_ = big.Write(&b, big.BigEndian, crc32.ChecksumIEEE(append([]byte(kind), data...)))
	return b.Bytes()
}

// blackPNG is a picture of nothing, of any size, in a few bytes.
func blackPNG(width, height int, depth, colour byte, rowBytes int) string {
	var head bytes.Buffer
	_ = big.Write(&head, big.BigEndian, []uint32{uint32(width), uint32(height)})
	head.Write([]byte{depth, colour, 0, 0, 0})
	var packed bytes.Buffer
	z, _ := zlib.NewWriterLevel(&packed, 9)
	row := make([]byte, 1+rowBytes)
	for range height {
		_, _ = z.Write(row)
	}
	_ = z.Close()
	return "\x89PNG\r\n\x1a\n" + string(chunk("IHDR", head.Bytes())) + string(chunk("IDAT", packed.Bytes())) + string(chunk("IEND", nil))
}

// zipOf is a bundle with a file of so many zeros in it.
func zipOf(name string, zeros int) string {
	var b bytes.Buffer
	z := zip.NewWriter(&b)
	w, _ := z.Create(name)
	_, _ = io.CopyN(w, zero{}, int64(zeros))
	_ = z.Close()
	return b.String()
}

// zipText is a zip with a text in it, and so many empty files besides.
func zipText(name, text string, empty int) string {
	var b bytes.Buffer
	z := zip.NewWriter(&b)
	w, _ := z.Create(name)
	_, _ = io.WriteString(w, text)
	for i := range empty {
		_, _ = z.Create(strconv.Itoa(i))
	}
	_ = z.Close()
	return b.String()
}

type zero struct{}

func (zero) Read(p []byte) (int, error) { clear(p); return len(p), nil }

// peak is the most memory that a process has held since the last call, in bytes (Linux: proc(5)).
func peak(t *testing.T, pid int) int {
	t.Helper()
	status, err := os.ReadFile(fmt.Sprintf("/proc/%d/status", pid))
	must(t, err)
	_, rest, _ := strings.Cut(string(status), "VmHWM:")
	kb, err := strconv.Atoi(strings.Fields(rest)[0])
	must(t, err)
	must(t, os.WriteFile(fmt.Sprintf("/proc/%d/clear_refs", pid), []byte("5"), 0o600))
	return kb << 10
}

// What is small when it is sent and would be huge when it is unfolded is refused, or taken as it is, within 400 MB and 2 seconds of a
// quiet machine; the program answers as before.
func TestBombs(t *testing.T) {
	p := start(t, "-demo")
	job := `{"format":"steptrace-job","version":1,"sheet":{"model":"X"},"complaint":"x","opened":"2026-11-20T09:00:00Z","readings":[`
	sheet := `{"format":"steptrace-sheet","version":1,"model":"X","points":[`
	many := func(what string, bytes int) string { return strings.Repeat(what, bytes/len(what)) }
	bombs := []struct{ name, path, data string }{
		{"1 MB of empty readings", "/api/jobs/import", job + many("{},", 1<<20) + "{}]}"},
		{"60 MB of empty readings", "/api/jobs/import", job + many("{},", 60<<20) + "{}]}"},
		{"8 MB of lists in lists", "/api/jobs/import", many("[", 8<<20)},
		{"30 MB of empty texts", "/api/jobs/import", `{"format":"steptrace-job","version":1,"waits":[` + many(`"",`, 30<<20) + `""]}`},
		{"a number of a megabyte", "/api/jobs/import", `{"format":"steptrace-job","version":` + many("1", 1<<20) + "}"},
		{"8 MB of empty points", "/api/sheets/import", sheet + many("{},", 7<<20) + "{}]}"},
		{"8 MB of commas", "/api/sheets/read", many(",", 8<<20-1)},
		{"8 MB of empty lines", "/api/sheets/read", many(",\n", 8<<20-1)},
		{"8 MB of quotes", "/api/sheets/read", many(`"`, 8<<20-1)},
		{"a megabyte of commas as types", "/api/types/read", many(",", 1<<20-1)},
		{
			"8 MB of jobs lent",
			"/api/experience",
			`{"format":"steptrace-experience","version":1,"workshop":"w","jobs":[` + many("{},", 7<<20) + "{}]}",
		},
		{"a bundle of half a gigabyte of zeros", "/api/sheets/import", zipOf("sheet.json", 512<<20)},
		{"a workshop of half a gigabyte of zeros", "/api/whole", zipOf("index.json", 512<<20)},
		{"a workshop of twenty million jobs", "/api/whole",
			zipText("index.json", `{"format":"steptrace-whole","version":1,"jobs":[`+many("{},", 60<<20)+"{}]}", 0)},
		{"a workshop of 199,000 empty files", "/api/whole", zipText("index.json", "{}", 199_000)},
		{"a picture of 60,000,000 × 1", "/api/jobs/147/pictures?id=b1", blackPNG(60_000_000, 1, 1, 0, 7_500_000)},
		{"a picture of 8000 × 8000 in 16 bits", "/api/jobs/147/pictures?id=b2", blackPNG(8000, 8000, 16, 6, 64_000)},
		{"a picture of 7900 × 7900", "/api/jobs/147/pictures?id=b3", blackPNG(7900, 7900, 8, 6, 31_600)},
		{"a picture of 30,000 × 30,000", "/api/jobs/147/pictures?id=b4", blackPNG(30_000, 30_000, 1, 0, 3750)},
		{"a waveform of commas", "/api/wave?interval=1us", many(",", 30<<20)},
		{
			"a sound of four gigabytes, in words",
			"/api/wave",
			"RIFF\xff\xff\xff\xffWAVEfmt \x10\x00\x00\x00\x01\x00\x10\x00\x44\xac\x00\x00" +
				"\x88\x58\x01\x00\x02\x00\x10\x00data\xff\xff\xff\xff",
		},
	}
	const slow = 5 * time.Second // other tests run beside it
	peak(t, p.cmd.Process.Pid)
	for _, b := range bombs {
		began := time.Now()
		r, err := http.Post(p.url+b.path, "application/octet-stream", strings.NewReader(b.data))
		must(t, err)
		said, err := io.ReadAll(r.Body)
		must(t, err)
		must(t, r.Body.Close())
		took, held := time.Since(began), peak(t, p.cmd.Process.Pid)
		t.Logf("%-40s %4d MB %5.2f s  %d %.90s", b.name, held>>20, took.Seconds(), r.StatusCode, said)
		if held > 400<<20 || took > slow || r.StatusCode >= 500 {
			t.Errorf("%s: %d MB, %v, %d %s", b.name, held>>20, took, r.StatusCode, said)
		}
	}
	// Circuits that are posted and dropped do not run on.
	var parts, readings []string
	for i := range 200 {
		parts = append(
			parts,
			fmt.Sprintf(`{"name":"R%d","kind":"resistor","nodes":{"1":"n%d","2":"n%d"},"value":"1 k"}`, i, i, (i*7+1)%120),
		)
		readings = append(readings, fmt.Sprintf(`{"node":"n%d","value":"%d mV"}`, i%120, 100+i))
	}
	body := fmt.Sprintf(
		`{"circuit":{"parts":[{"name":"V","kind":"voltage","nodes":{"+":"n0","-":"gnd"},"value":"9 V"},%s]},"readings":[%s]}`,
		strings.Join(parts, ","),
		strings.Join(readings, ","),
	)
	for range 10 {
		c, err := net.Dial("tcp", strings.TrimPrefix(p.url, "http://"))
		must(t, err)
		_, err = fmt.Fprintf(
			c,
			"POST /api/circuit HTTP/1.1\r\nHost: %s\r\nContent-Type: application/json\r\nContent-Length: %d\r\n\r\n%s",
			strings.TrimPrefix(p.url, "http://"),
			len(body),
			body,
		)
		must(t, err)
		time.Sleep(50 * time.Millisecond)
		must(t, c.Close())
	}
	began := time.Now()
	var shelf struct{ Jobs []struct{ Number int } }
	getJSON(t, p.url+"/api/jobs", &shelf)
	took := time.Since(began)
	time.Sleep(2 * time.Second)
	before := cpu(t, p.cmd.Process.Pid)
	time.Sleep(time.Second)
	if spent := cpu(t, p.cmd.Process.Pid) - before; spent > 500*time.Millisecond {
		t.Errorf("two seconds later it is still at work: %v in a second", spent)
	}
	if held := peak(t, p.cmd.Process.Pid); held > 400<<20 || took > slow || len(shelf.Jobs) != 9 {
		t.Errorf("%d MB; the shelf took %v, %d jobs", held>>20, took, len(shelf.Jobs))
	}
}

// cpu is how long a process has been at work.
func cpu(t *testing.T, pid int) time.Duration {
	t.Helper()
	stat, err := os.ReadFile(fmt.Sprintf("/proc/%d/stat", pid))
	must(t, err)
	_, rest, _ := strings.Cut(string(stat), ") ")
	fields := strings.Fields(rest)
	user, err := strconv.Atoi(fields[11])
	must(t, err)
	system, err := strconv.Atoi(fields[12])
	must(t, err)
	return time.Duration(user+system) * 10 * time.Millisecond // clock ticks of 1/100 s
}
