package exchange

// Bounds on what a file may hold, counted before it is unfolded: a few bytes of text ({}, or a comma) become some hundred each in
// memory. What people write is far below: a job of years has some ten thousand entries.
const (
	mostHeld  = 120_000   // objects and lists
	mostParts = 4_000_000 // values in them
	mostDeep  = 200       // one within the other
	// MostCells is how many cells a line of a table has at most.
	MostCells = 5_000
)

// bounded counts what a JSON text holds, without unfolding it. What is no JSON is for the decoder to say.
func bounded(data []byte) *FileError {
	held, parts, deep := 0, 0, 0
	for i := 0; i < len(data); i++ {
		switch data[i] {
		case '"':
			for i++; i < len(data) && data[i] != '"'; i++ {
				if data[i] == '\\' {
					i++
				}
			}
		case '{', '[':
			held++
			deep++
		case '}', ']':
			deep--
		case ',':
			parts++
		}
		if held > mostHeld || parts > mostParts || deep > mostDeep {
			return &FileError{
				Line: lineAt(data, int64(i)), Problem: "there is more in it than any workshop writes: this is no file of Step Trace's",
			}
		}
	}
	return nil
}

// Table refuses a table with a line of more cells than any has, before it is unfolded.
func Table(data []byte) error {
	cells := 0
	for i, c := range data {
		switch c {
		case '\n':
			cells = 0
		case ',', ';', '\t':
			if cells++; cells > MostCells {
				return &FileError{Line: lineAt(data, int64(i)), Problem: "the line has more cells than a table here can have"}
			}
		}
	}
	return nil
}
