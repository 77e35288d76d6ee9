package language

import (
	"hash/maphash"
	"sync"
)

// Many look at one source in a run: what finds apps, what finds their fonts, what judges their code, what
// shows an excerpt. It is lexed once: the tokens are kept by the source's content.
var memory = struct {
	sync.Mutex
	seed   maphash.Seed
	tokens map[lexed][]Token
	many   int
}{seed: maphash.MakeSeed(), tokens: map[lexed][]Token{}}

// lexed is what tells a source.
type lexed struct {
	language *Language
	bytes    int
	hash     uint64
}

// mostTokens bounds what is kept, in tokens and answers.
const mostTokens = 1 << 20

// Tokens finds the comments, strings and texts of a source, in order. What is not
// closed is taken as code, where the language keeps it on its line, else it goes to
// the end. Nobody may change the answer: others get the same.
//
// The mark of the encoding in front of a source (U+FEFF) counts as a comment.
func (l *Language) Tokens(src []byte) []Token {
	key := lexed{l, len(src), maphash.Bytes(memory.seed, src)}
	memory.Lock()
	out, ok := memory.tokens[key]
	memory.Unlock()
	if ok {
		return out
	}
	out = l.lex(src)
	memory.Lock()
	defer memory.Unlock()
	if memory.many += len(out) + 1; memory.many > mostTokens {
		clear(memory.tokens)
		memory.many = len(out) + 1
	}
	memory.tokens[key] = out
	return out
}
