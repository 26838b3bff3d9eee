package document

// Fault is what keeps a definition from being at work that may be saved unfinished, and where it is in its document.
type Fault struct {
	Path    string `json:"path" doc:"Where it is in the document, such as stages/2/seconds."`
	Message string `json:"message"`
}
