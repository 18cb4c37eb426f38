package exchange_test

import (
	"encoding/json"
	"testing"
	"time"

	"steptrace/core/exchange"
)

type leaf struct {
	Names []string
	By    map[string][]int
	Left  []int `json:",omitempty"`
	Data  []byte
	At    time.Time
	Raw   json.RawMessage
}

type tree struct {
	Leaf   leaf
	To     *leaf
	None   *leaf
	Many   []leaf
	Any    any
	Within map[string]leaf
	Again  *tree
}

// Every list and map that is nil comes out as an empty one, at any depth, and what
// was given stays as it was.
func TestWholeHasNoNullLists(t *testing.T) {
	shared := []leaf{{Names: []string{"a"}}, {}}
	v := tree{To: &leaf{}, Many: shared, Any: []leaf{{}}, Within: map[string]leaf{"x": {}}, Again: &tree{}}
	got, err := json.Marshal(exchange.Whole(v))
	if err != nil {
		t.Fatal(err)
	}
	const one = `{"Names":[],"By":{},"Data":null,"At":"0001-01-01T00:00:00Z","Raw":null}`
	const named = `{"Names":["a"],"By":{},"Data":null,"At":"0001-01-01T00:00:00Z","Raw":null}`
	const again = `{"Leaf":` + one + `,"To":null,"None":null,"Many":[],"Any":null,"Within":{},"Again":null`
	want := `{"Leaf":` + one + `,"To":` + one + `,"None":null,"Many":[` + named + `,` + one + `],"Any":[` + one + `],"Within":{"x":` + one + `},"Again":` + again + `}}`
	if string(got) != want {
		t.Errorf("got  %s\nwant %s", got, want)
	}
	if shared[1].Names != nil || shared[0].By != nil || v.To.Names != nil || v.Leaf.By != nil {
		t.Error("what was given has changed")
	}
	if exchange.Whole(nil) != nil {
		t.Error("nothing became something")
	}
}
