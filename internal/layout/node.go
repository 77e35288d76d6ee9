package layout

import (
	"encoding/binary"
	"fmt"
	"strings"

	"notaria/internal/fault"
)

// A node is a table that refers to others by their places, which are known when all are put together.
type node struct {
	b     []byte
	links []link
}

// A link is an offset from the start of a node to another one: of 16 bits, or of 32.
type link struct {
	at   int
	wide bool
	to   *node
}

func (n *node) u16(vs ...int) {
	for _, v := range vs {
		n.b = binary.BigEndian.AppendUint16(n.b, uint16(v))
	}
}

func (n *node) u32(v int) { n.b = binary.BigEndian.AppendUint32(n.b, uint32(v)) }

// ref adds an offset of 16 bits; 0 for nil.
func (n *node) ref(to *node) {
	if to != nil {
		n.links = append(n.links, link{len(n.b), false, to})
	}
	n.u16(0)
}

// far adds an offset of 32 bits; 0 for nil.
func (n *node) far(to *node) {
	if to != nil {
		n.links = append(n.links, link{len(n.b), true, to})
	}
	n.u32(0)
}

// A packer puts nodes together. What is alike is written once, and what an offset of 32 bits leads to stands by itself: offsets of
// 16 bits stay within their part.
type packer struct {
	same map[string]*node // by what a node holds, with the same nodes below it
	done map[*node]*node
	ids  map[*node]int
}

// pack is the bytes of a root and all that it leads to. An offset that is too large is an error.
func pack(root *node) ([]byte, error) {
	p := &packer{map[string]*node{}, map[*node]*node{}, map[*node]int{}}
	root = p.one(root)
	var out []byte
	type waiting struct {
		from, start int // the place of the offset, and of the node that it counts from
		to          *node
	}
	at := map[*node]int{} // of parts that stand by themselves
	parts := []*node{root}
	var wide []waiting
	for i := 0; i < len(parts); i++ {
		if _, there := at[parts[i]]; there {
			continue
		}
		order := part(parts[i])
		places := map[*node]int{}
		here := len(out)
		for _, n := range order {
			places[n] = len(out)
			out = append(out, n.b...)
			if len(n.b)%2 != 0 {
				out = append(out, 0)
			}
		}
		at[parts[i]] = here
		for _, n := range order {
			for _, l := range n.links {
				from := places[n] + l.at
				if l.wide {
					wide = append(wide, waiting{from, places[n], l.to})
					parts = append(parts, l.to)
					continue
				}
				off := places[l.to] - places[n]
				if off > 0xffff {
					return nil, fault.Form("expected tables of layout that 16 bits reach, found %d bytes", off)
				}
				binary.BigEndian.PutUint16(out[from:], uint16(off))
			}
		}
	}
	for _, w := range wide {
		binary.BigEndian.PutUint32(out[w.from:], uint32(at[w.to]-w.start))
	}
	return out, nil
}

// one is the node that stands for all that are like it.
func (p *packer) one(n *node) *node {
	if s, ok := p.done[n]; ok {
		return s
	}
	var key strings.Builder
	key.Write(n.b)
	for i := range n.links {
		l := &n.links[i]
		l.to = p.one(l.to)
		fmt.Fprintf(&key, "|%d %t %d", l.at, l.wide, p.ids[l.to])
	}
	s, ok := p.same[key.String()]
	if !ok {
		s = n
		p.same[key.String()] = n
		p.ids[n] = len(p.ids) + 1
	}
	p.done[n] = s
	return s
}

// part is a node with all that offsets of 16 bits lead to from it, each behind all that refer to it.
func part(root *node) []*node {
	before := map[*node]int{}
	seen := map[*node]bool{root: true}
	all := []*node{root}
	for i := 0; i < len(all); i++ {
		for _, l := range all[i].links {
			if l.wide {
				continue
			}
			before[l.to]++
			if !seen[l.to] {
				seen[l.to] = true
				all = append(all, l.to)
			}
		}
	}
	order := []*node{root}
	for i := 0; i < len(order); i++ {
		for _, l := range order[i].links {
			if l.wide {
				continue
			}
			if before[l.to]--; before[l.to] == 0 {
				order = append(order, l.to)
			}
		}
	}
	return order
}
