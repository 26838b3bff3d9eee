package engine

// index finds the properties of a device by its id. Each report looks there first: it touches fewer places in memory
// than a map does, of which most are not in the processor's cache when thousands of devices speak in turn. It is made
// anew after devices came or went.
type index struct {
	// table has 1 and the place in heads of a device where its hash points to, or at one of the next places; 0 is free.
	table []uint32
	heads []head
}

type head struct {
	device string
	slots  []slot
}

// hashOf is of the end of an id, where ids differ.
func hashOf(id string) uint64 {
	var h uint64
	for i := max(0, len(id)-8); i < len(id); i++ {
		h = h<<8 | uint64(id[i])
	}
	h = (h ^ uint64(len(id))) * 0x9E3779B97F4A7C15
	return h ^ h>>32
}

func newIndex(byDevice map[string][]slot) *index {
	size := 16
	for size < 4*len(byDevice) {
		size *= 2
	}
	x := &index{table: make([]uint32, size), heads: make([]head, 0, len(byDevice))}
	for _, device := range sortedKeys(byDevice) {
		x.heads = append(x.heads, head{device, byDevice[device]})
		i := hashOf(device) & uint64(size-1)
		for x.table[i] != 0 {
			i = (i + 1) & uint64(size-1)
		}
		x.table[i] = uint32(len(x.heads))
	}
	return x
}

// of returns the properties of a device, nil where there is none.
func (x *index) of(device string) []slot {
	mask := uint64(len(x.table) - 1)
	for i := hashOf(device) & mask; x.table[i] != 0; i = (i + 1) & mask {
		if h := &x.heads[x.table[i]-1]; h.device == device {
			return h.slots
		}
	}
	return nil
}
