package almanac

import (
	"bytes"
	"encoding/binary"
	"errors"
	"slices"
	"strconv"
	"strings"
	"time"

	"github.com/teambition/rrule-go"
)

// The changes of the clocks of a zone that a calendar defines are known from one of these times to the other.
var firstTransition, lastTransition = time.Date(1970, 1, 1, 0, 0, 0, 0, time.UTC), time.Date(2100, 1, 1, 0, 0, 0, 0, time.UTC)

// maximumTransitions bounds how many such changes one zone may have.
const maximumTransitions = 2000

// transition is a change of the clocks of a zone.
type transition struct {
	at     time.Time
	offset int // in seconds east of UTC, from then on
	saving bool
}

// definedZone makes a zone of a VTIMEZONE (RFC 5545 §3.6.5), whatever it is called.
func definedZone(b block) (name string, zone *time.Location, err error) {
	var all []transition
	first, before := time.Time{}, 0
	var part []string
	kind := ""
	for _, line := range b.lines {
		switch {
		case strings.HasPrefix(line, "BEGIN:"):
			kind, part = strings.TrimPrefix(line, "BEGIN:"), nil
		case strings.HasPrefix(line, "END:"):
			changes, from, err := observance(part, kind == "DAYLIGHT")
			if err != nil {
				return name, nil, err
			}
			for _, c := range changes {
				if first.IsZero() || c.at.Before(first) {
					first, before = c.at, from
				}
			}
			if all = append(all, changes...); len(all) > maximumTransitions {
				return name, nil, errors.New("its zone has too many changes of the clocks")
			}
			kind = ""
		case kind != "":
			part = append(part, line)
		case strings.HasPrefix(line, "TZID"):
			_, name, _ = strings.Cut(line, ":")
		}
	}
	if name = strings.TrimSpace(name); name == "" || len(all) == 0 {
		return name, nil, errors.New("a zone in it has no name, or no time")
	}
	slices.SortStableFunc(all, func(a, b transition) int { return a.at.Compare(b.at) })
	zone, err = time.LoadLocationFromTZData(name, zoneData(all, before))
	return name, zone, err
}

// observance reads when one kind of time, standard or daylight saving, begins, and the offset before it.
func observance(lines []string, saving bool) (all []transition, from int, err error) {
	values := map[string]string{}
	for _, line := range lines {
		name, value, _ := strings.Cut(line, ":")
		name, _, _ = strings.Cut(name, ";")
		if name == "RDATE" && values[name] != "" {
			value = values[name] + "," + value
		}
		values[name] = strings.TrimSpace(value)
	}
	from, err = offset(values["TZOFFSETFROM"])
	to, wrong := offset(values["TZOFFSETTO"])
	begin, none := time.Parse("20060102T150405", values["DTSTART"])
	if err := errors.Join(err, wrong, none); err != nil {
		return nil, 0, errors.New("a zone in it cannot be read")
	}
	walls := []time.Time{begin}
	if text := values["RRULE"]; text != "" {
		option, err := rrule.StrToROption(text)
		if err != nil || option.Freq != rrule.YEARLY {
			return nil, 0, errors.New("a zone in it changes its clocks in a way that cannot be read")
		}
		option.Dtstart = begin
		if !option.Until.IsZero() {
			option.Until = option.Until.Add(time.Duration(from) * time.Second) // it is given in UTC
		}
		option.Dtstart = later(*option, firstTransition)
		walls = comings(*option, firstTransition, lastTransition)
	}
	for part := range strings.SplitSeq(values["RDATE"], ",") {
		if wall, err := time.Parse("20060102T150405", strings.TrimSpace(part)); err == nil {
			walls = append(walls, wall)
		}
	}
	for _, wall := range walls[:min(len(walls), maximumTransitions)] {
		all = append(all, transition{wall.Add(-time.Duration(from) * time.Second), to, saving})
	}
	return all, from, nil
}

// offset reads an offset from UTC such as +0100 (RFC 5545 §3.3.14), in seconds.
func offset(text string) (int, error) {
	if len(text) != 5 && len(text) != 7 {
		return 0, errors.New("no offset")
	}
	n, err := strconv.Atoi(text[1:])
	if err != nil || (text[0] != '+' && text[0] != '-') {
		return 0, errors.New("no offset")
	}
	if len(text) == 5 {
		n *= 100
	}
	seconds := n/10000*3600 + n/100%100*60 + n%100
	if seconds > 18*3600 {
		return 0, errors.New("no offset")
	}
	if text[0] == '-' {
		return -seconds, nil
	}
	return seconds, nil
}

// zoneData writes a zone as the system keeps zones (TZif, RFC 8536), with the offset before its first change.
func zoneData(all []transition, before int) []byte {
	type kind struct {
		offset int
		saving bool
	}
	kinds := []kind{{before, false}}
	var data, types bytes.Buffer
	for _, t := range all {
		k := kind{t.offset, t.saving}
		i := slices.Index(kinds, k)
		if i < 0 {
			i, kinds = len(kinds), append(kinds, k)
		}
		_ = binary.Write(&data, binary.BigEndian, t.at.Unix())
		types.WriteByte(byte(min(i, 255)))
	}
	data.Write(types.Bytes())
	for _, k := range kinds {
		_ = binary.Write(&data, binary.BigEndian, int32(k.offset))
		data.Write([]byte{map[bool]byte{true: 1}[k.saving], 0})
	}
	const name = "LOC\x00"
	data.WriteString(name)
	head := func(transitions, kinds, letters int) []byte {
		h := append([]byte("TZif2"), make([]byte, 15)...)
		for _, n := range []int{0, 0, 0, transitions, kinds, letters} {
			h = binary.BigEndian.AppendUint32(h, uint32(n))
		}
		return h
	}
	whole := append(head(0, 1, 1), make([]byte, 7)...) // of version 1, which nobody reads: one kind of time, without a name
	whole = append(whole, head(len(all), len(kinds), len(name))...)
	return append(append(whole, data.Bytes()...), "\n\n"...)
}
