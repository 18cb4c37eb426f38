package exchange_test

import (
	"strings"
	"testing"

	"steptrace/core/exchange"
)

// What a file holds is counted before it is unfolded: objects, lists, values, how deep; not what stands in texts. The line is named.
func TestWhatIsFarTooMuchIsRefused(t *testing.T) {
	many := func(what string, n int) string { return "[" + strings.Repeat(what+",", n) + what + "]" }
	for name, x := range map[string]struct {
		text string
		ok   bool
	}{
		"many objects":      {many("{}", 100_000), true},
		"too many objects":  {many("{}", 120_000), false},
		"many lists":        {many("[]", 119_000), true},
		"too many lists":    {many("\n[]", 121_000), false},
		"too many numbers":  {many("0", 4_000_001), false},
		"deep":              {strings.Repeat("[", 150) + strings.Repeat("]", 150), true},
		"too deep":          {strings.Repeat("[", 250) + strings.Repeat("]", 250), false},
		"signs in texts":    {`["` + strings.Repeat(`{[,\"`, 2_000_000) + `"]`, true},
		"a text that opens": {`["` + strings.Repeat("x", 100), false}, // no JSON: the decoder says so
	} {
		var v any
		err := exchange.Decode([]byte(x.text), &v)
		if (err == nil) != x.ok {
			t.Errorf("%s: %v", name, err)
		}
		if name == "too many lists" && (err == nil || !strings.HasPrefix(err.Error(), "line 12")) {
			t.Errorf("the line is not named: %v", err)
		}
	}
	for text, ok := range map[string]bool{
		strings.Repeat("a,b;c\td\n", 100_000): true, strings.Repeat(",", 4_999): true, "x\n" + strings.Repeat(";", 5_001): false,
	} {
		if err := exchange.Table([]byte(text)); (err == nil) != ok {
			t.Errorf("%.10s: %v", text, err)
		}
	}
}
