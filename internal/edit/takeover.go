package edit

// TakeOver gives the entries among want that doc holds by somebody else's hand, as
// Reconcile would have recorded its own: from then on they are Notaria's, and go
// when they are wanted no more. mine are those that are Notaria's already.
func TakeOver(file, syntax string, doc []byte, want, mine []Entry) []Entry {
	have := keys(mine)
	var out []Entry
	for _, e := range want {
		if have[e.Key()] {
			continue
		}
		have[e.Key()] = true
		if e, ok := taken(file, syntax, doc, e); ok {
			out = append(out, e)
		}
	}
	return out
}

// taken is an entry with the marks by which its own syntax finds it again.
func taken(file, syntax string, doc []byte, e Entry) (Entry, bool) {
	switch syntax {
	case SyntaxByHand:
		return e, false
	case SyntaxPackage:
		e.Made = []string{""} // the item goes, whatever stands around it
	case SyntaxSource:
		e.Made = []string{madeLine}
	case SyntaxPlist:
		if len(e.Place) > len(PlaceString) && e.Place[:len(PlaceString)] == PlaceString {
			e.Made = []string{madeKey}
		}
	case SyntaxProject:
		p, err := ParseProject(file, doc)
		if err != nil {
			return e, false
		}
		e.Made = p.made(e)
		return e, len(e.Made) > 0
	}
	return e, true
}
