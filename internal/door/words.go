package door

import (
	"strings"
	"sync"
	"unicode"

	"github.com/alexedwards/argon2id"
	"github.com/sethvargo/go-diceware/diceware"
)

// wordCount makes some 64 bits of chance with a list of 7776 words.
const wordCount = 5

// slow is how words are hashed (argon2id, RFC 9106): 32 MiB three times over takes a tenth of a second, and leaves room on a small
// computer.
var slow = argon2id.Params{Memory: 32 << 10, Iterations: 3, Parallelism: 1, SaltLength: 16, KeyLength: 32}

// Words makes a passphrase of a few words.
func Words() (string, error) {
	list, err := diceware.Generate(wordCount)
	return strings.Join(list, " "), err
}

// one at a time: many tries at once are not to take the memory of many.
var one sync.Mutex

// Hash is what is kept of words.
func Hash(words string) (string, error) {
	one.Lock()
	defer one.Unlock()
	return argon2id.CreateHash(plain(words), &slow)
}

// Match tells whether words are those of a hash. Spaces, hyphens and capitals do not matter.
func Match(words, hash string) (bool, error) {
	one.Lock()
	defer one.Unlock()
	return argon2id.ComparePasswordAndHash(plain(words), hash)
}

// plain is words as they are compared: their letters and digits.
func plain(words string) string {
	return strings.Map(func(r rune) rune {
		if unicode.IsLetter(r) || unicode.IsDigit(r) {
			return unicode.ToLower(r)
		}
		return -1
	}, words)
}
