package engine

import "hash/maphash"

// index finds properties by their devices and names. Each place holds the hash and leads to the property itself, so a
// report of a large home waits for memory once less than with a map, which holds the names too. The zero index is empty.
// Nothing may depend on the order of its places: it differs from start to start.
type index struct {
	seed   maphash.Seed
	places []place // a power of two of them, at most half of them taken
	count  int
}

// place is free where it leads nowhere. What found its place taken follows in the next that was free.
type place struct {
	hash uint64
	slot *slot
}

// hash is by the device; names of one device are told apart by their lengths and ends, which is quick and mostly enough.
func (x *index) hash(device, name string) uint64 {
	h := maphash.String(x.seed, device) + 0x9E3779B97F4A7C15*uint64(len(name))
	if name != "" {
		h += uint64(name[0])<<24 + uint64(name[len(name)-1])<<16 ^ uint64(name[len(name)-1])
	}
	return h
}

// find returns nil where there is no such property.
func (x *index) find(device, name string) *slot {
	if x.count == 0 {
		return nil
	}
	h := x.hash(device, name)
	for i := x.first(h); ; i = x.next(i) {
		p := &x.places[i]
		if p.slot == nil {
			return nil
		}
		if p.hash == h && p.slot.ref.Name == name && p.slot.ref.Device == device {
			return p.slot
		}
	}
}

func (x *index) first(hash uint64) int { return int(hash & uint64(len(x.places)-1)) }

func (x *index) next(i int) int { return (i + 1) & (len(x.places) - 1) }

// put adds a property, in the place of one of the same name.
func (x *index) put(s *slot) {
	if 2*(x.count+1) > len(x.places) {
		x.grow()
	}
	h := x.hash(s.ref.Device, s.ref.Name)
	i := x.first(h)
	for ; x.places[i].slot != nil; i = x.next(i) {
		if x.places[i].slot.ref == s.ref {
			x.places[i].slot = s
			return
		}
	}
	x.places[i] = place{h, s}
	x.count++
}

const leastPlaces = 64

func (x *index) grow() {
	if x.places == nil {
		x.seed = maphash.MakeSeed()
	}
	old := x.places
	x.places, x.count = make([]place, max(leastPlaces, 2*len(old))), 0
	for _, p := range old {
		if p.slot != nil {
			x.put(p.slot)
		}
	}
}

// remove takes a property out, if it is there itself. What follows closes up, up to the next free place.
func (x *index) remove(s *slot) {
	if x.find(s.ref.Device, s.ref.Name) != s {
		return
	}
	free := x.first(x.hash(s.ref.Device, s.ref.Name))
	for x.places[free].slot != s {
		free = x.next(free)
	}
	x.count--
	for i := x.next(free); x.places[i].slot != nil; i = x.next(i) {
		// What stands here may close up unless its own first place lies behind the free one.
		own := x.first(x.places[i].hash)
		if (i-own)&(len(x.places)-1) >= (i-free)&(len(x.places)-1) {
			x.places[free], free = x.places[i], i
		}
	}
	x.places[free] = place{}
}
