package hub

import (
	"context"
	"encoding/json"
	"fmt"
	"net/netip"
	"net/url"
	"regexp"
	"slices"
	"strings"
)

// Admitted is what an owner lets reach the hub besides what it knows of its machine.
type Admitted struct {
	// Hosts are names, or addresses, by which browsers may ask for the hub, in small letters and without a port.
	Hosts []string `json:"hosts" maxItems:"20" doc:"Names or addresses by which browsers may ask for the hub, without a port."`
	// Origins are those of other pages (RFC 6454) that may use the hub's interface with a key.
	Origins []string `json:"origins" maxItems:"20" doc:"Origins of other web pages that may use the interface with a key, such as https://example.org."`
}

// admittedSetting is where the store keeps it.
const admittedSetting = "admitted"

// Admitted returns what an owner lets reach the hub. Nobody may change its lists.
func (h *Hub) Admitted() Admitted {
	if a := h.people.admitted.Load(); a != nil {
		return *a
	}
	return Admitted{Hosts: []string{}, Origins: []string{}}
}

// loadAdmitted takes over what was kept.
func (h *Hub) loadAdmitted(ctx context.Context) error {
	kept, err := h.store.Setting(ctx, admittedSetting)
	switch {
	case err == nil && kept == "":
		return nil
	case err != nil:
		return fmt.Errorf("reading by which names the hub is reached: %w", err)
	}
	var a Admitted
	if err := json.Unmarshal([]byte(kept), &a); err != nil {
		h.log.Error("by which names the hub is reached cannot be read; it answers to those of its machine alone", "error", err)
		return nil
	}
	h.people.admitted.Store(&a)
	return nil
}

// Admission is what an owner lets reach the hub from now on, and what no longer.
type Admission struct {
	AddHosts      []string `json:"addHosts,omitempty" maxItems:"20"`
	RemoveHosts   []string `json:"removeHosts,omitempty" maxItems:"20"`
	AddOrigins    []string `json:"addOrigins,omitempty" maxItems:"20"`
	RemoveOrigins []string `json:"removeOrigins,omitempty" maxItems:"20"`
}

// admittedAtMost is how many names, and how many origins, are admitted at most.
const admittedAtMost = 20

// Admit lets reach the hub what is added, and no longer what is removed. Of two who do so at once neither is lost.
func (h *Hub) Admit(ctx context.Context, a Admission) error {
	h.people.admitting.Lock()
	defer h.people.admitting.Unlock()
	is := h.Admitted()
	var err error
	if is.Hosts, err = changed("addHosts", is.Hosts, a.AddHosts, a.RemoveHosts, hostOf); err != nil {
		return err
	}
	if is.Origins, err = changed("addOrigins", is.Origins, a.AddOrigins, a.RemoveOrigins, originOf); err != nil {
		return err
	}
	data, err := json.Marshal(is)
	if err != nil {
		return err
	}
	if err := h.store.PutSetting(ctx, admittedSetting, string(data)); err != nil {
		return err
	}
	h.people.admitted.Store(&is)
	return nil
}

// changed returns a list with what is added, each read by a function, and without what is removed.
func changed(place string, list, add, remove []string, read func(string) (string, error)) ([]string, error) {
	next := slices.DeleteFunc(slices.Clone(list), func(one string) bool { return slices.Contains(remove, one) })
	for i, text := range add {
		one, err := read(text)
		if err != nil {
			return nil, Invalid(fmt.Sprintf("%s[%d]", place, i), err.Error())
		}
		if !slices.Contains(next, one) {
			next = append(next, one)
		}
	}
	if len(next) > admittedAtMost {
		return nil, &ConflictError{fmt.Sprintf("There are %d already. Remove one first.", admittedAtMost)}
	}
	return next, nil
}

// hostName is a name of a machine (RFC 1123 §2.1), of at least one label.
var hostName = regexp.MustCompile(`^([a-z0-9]([a-z0-9-]{0,61}[a-z0-9])?\.)*[a-z0-9]([a-z0-9-]{0,61}[a-z0-9])?$`)

// hostOf reads the name of a machine, or an address.
func hostOf(text string) (string, error) {
	host := strings.ToLower(strings.TrimSuffix(strings.Trim(strings.TrimSpace(text), "[]"), "."))
	if ip, err := netip.ParseAddr(host); err == nil {
		return ip.Unmap().WithZone("").String(), nil
	}
	if len(host) > 253 || !hostName.MatchString(host) {
		return "", fmt.Errorf("%.60q is no name of a machine; write it as home.example.org, without http:// and without a port", text)
	}
	return host, nil
}

// originOf reads an origin (RFC 6454 §6.2).
func originOf(text string) (string, error) {
	wrong := fmt.Errorf("%.60q is no origin; write it as https://example.org, without anything after the name or the port", text)
	u, err := url.Parse(strings.ToLower(strings.TrimSpace(text)))
	if err != nil || u.Scheme != "https" && u.Scheme != "http" || u.Host == "" {
		return "", wrong
	}
	if u.User != nil || u.RawQuery != "" || u.Fragment != "" || strings.Trim(u.Path, "/") != "" {
		return "", wrong // there is more to it
	}
	if _, err := hostOf(u.Hostname()); err != nil {
		return "", wrong
	}
	port := u.Port()
	if port == "80" && u.Scheme == "http" || port == "443" && u.Scheme == "https" {
		return u.Scheme + "://" + strings.TrimSuffix(u.Host, ":"+port), nil // as browsers say it
	}
	return u.Scheme + "://" + u.Host, nil
}
