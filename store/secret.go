package store

import (
	"context"
	"crypto/aes"
	"crypto/cipher"
	"crypto/hmac"
	"crypto/rand"
	"crypto/sha256"
	"database/sql"
	"encoding/base32"
	"errors"
	"fmt"
	"os"
	"path/filepath"
	"strings"
	"time"
)

// sealer encrypts secrets with AES-256-GCM (NIST SP 800-38D) under the folder's key file.
type sealer struct {
	aead cipher.AEAD
	// marking is the key by which what is hidden gets its name.
	marking []byte
}

// keyCheck is the name of a secret by which a key file is known to be the right one.
const keyCheck = "the key of this folder"

// openKey opens the key file. Where it is missing, damaged or another one, the secrets that are there cannot be read: that
// is told, and the folder goes on with a key by which new ones can be kept.
func (s *Store) openKey(ctx context.Context) error {
	path := filepath.Join(s.folder, "key")
	key, err := os.ReadFile(path)
	missing := errors.Is(err, os.ErrNotExist)
	switch {
	case missing:
	case err != nil:
		return fmt.Errorf("the key file %s cannot be read: %w", path, err)
	case len(key) != 32:
		if err := os.Rename(path, path+".damaged"); err != nil {
			return fmt.Errorf("the key file %s is damaged: %w", path, err)
		}
		missing = true
	}
	if missing {
		key = make([]byte, 32)
		if _, err := rand.Read(key); err != nil {
			return err
		}
		if err := writeWhole(path, key); err != nil {
			return fmt.Errorf("the key file %s cannot be written: %w", path, err)
		}
	}
	if s.keys, err = newSealer(key); err != nil {
		return err
	}
	return s.proveKey(ctx, path)
}

// proveKey looks whether the key is the one that the folder's secrets were encrypted with.
func (s *Store) proveKey(ctx context.Context, path string) error {
	var secrets int
	if err := s.read.QueryRowContext(ctx, `SELECT COUNT(*) FROM secrets WHERE name <> ?`, keyCheck).Scan(&secrets); err != nil {
		if damage(err) {
			return nil // told by the check of the database
		}
		return err
	}
	if proof, err := s.Secret(ctx, keyCheck); err == nil && proof != "" {
		return nil
	} else if err == nil && secrets > 0 && s.opensAny(ctx) {
		secrets = 0 // of before there was a proof
	}
	if secrets > 0 {
		s.tell(Finding{What: findingKey, Title: "The key file of the data folder is missing, damaged or another one.",
			Text: fmt.Sprintf(
				"%d keys and passwords cannot be read: connections that need one cannot be opened, and programs and clients of the broker are not let in. Stop the hub and put the file %s back as it was, or enter them again.",
				secrets,
				path,
			)}, false)
	}
	return nil
}

// opensAny reports whether the key opens a secret that is there.
func (s *Store) opensAny(ctx context.Context) bool {
	var name string
	if s.read.QueryRowContext(ctx, `SELECT name FROM secrets LIMIT 1`).Scan(&name) != nil {
		return false
	}
	_, err := s.Secret(ctx, name)
	return err == nil
}

// writeWhole writes a file wholly or not at all.
func writeWhole(path string, data []byte) error {
	f, err := os.CreateTemp(filepath.Dir(path), filepath.Base(path)+"-*")
	if err != nil {
		return err
	}
	_, err = f.Write(data)
	err = errors.Join(err, f.Chmod(0o600), f.Sync(), f.Close())
	if err == nil {
		err = os.Rename(f.Name(), path)
	}
	if err != nil {
		_ = os.Remove(f.Name())
	}
	return err
}

func newSealer(key []byte) (*sealer, error) {
	block, err := aes.NewCipher(key)
	if err != nil {
		return nil, err
	}
	aead, err := cipher.NewGCM(block)
	if err != nil {
		return nil, err
	}
	digest := hmac.New(sha256.New, key)
	digest.Write([]byte("names of what is hidden"))
	return &sealer{aead: aead, marking: digest.Sum(nil)}, nil
}

// Mark returns a name of 12 small letters and digits for a secret: always the same for the same one, and of no use to whoever
// would guess the secret without the folder's key.
func (s *Store) Mark(secret string) string {
	digest := hmac.New(sha256.New, s.keys.marking)
	digest.Write([]byte(secret))
	return strings.ToLower(base32.StdEncoding.EncodeToString(digest.Sum(nil))[:12])
}

// HasSecret reports whether there is a secret of a name, whether or not it can be opened.
func (s *Store) HasSecret(ctx context.Context, name string) (there bool, err error) {
	err = s.read.QueryRowContext(ctx, `SELECT EXISTS (SELECT 1 FROM secrets WHERE name = ?)`, name).Scan(&there)
	return there, err
}

// PutSecret keeps a key or password encrypted.
func (s *Store) PutSecret(ctx context.Context, name, secret string) error {
	_, err := s.WriteBatch(ctx, time.Time{}, Batch{Secrets: map[string]string{name: secret}})
	return err
}

// seal encrypts a secret for its name; nothing of an empty one.
func (s *Store) seal(name, secret string) ([]byte, error) {
	if secret == "" {
		return nil, nil
	}
	nonce := make([]byte, s.keys.aead.NonceSize())
	if _, err := rand.Read(nonce); err != nil {
		return nil, err
	}
	return s.keys.aead.Seal(nonce, nonce, []byte(secret), []byte(name)), nil
}

// sealAll encrypts secrets, and with the first of them the proof that the key file is the right one.
func (s *Store) sealAll(secrets map[string]string) (sealed map[string][]byte, err error) {
	sealed = map[string][]byte{}
	if len(secrets) == 0 {
		return sealed, nil
	}
	if sealed[keyCheck], err = s.seal(keyCheck, "right"); err != nil {
		return nil, err
	}
	for name, secret := range secrets {
		if sealed[name], err = s.seal(name, secret); err != nil {
			return nil, err
		}
	}
	return sealed, nil
}

func putAll(tx *transaction, sealed map[string][]byte) error {
	for name, data := range sealed {
		if err := putSealed(tx, name, data); err != nil {
			return err
		}
	}
	return nil
}

func putSealed(tx *transaction, name string, sealed []byte) error {
	if len(sealed) == 0 {
		_, err := tx.Exec(`DELETE FROM secrets WHERE name = ?`, name)
		return err
	}
	_, err := tx.Exec(`INSERT INTO secrets (name, sealed) VALUES (?, ?) ON CONFLICT (name) DO UPDATE SET sealed = excluded.sealed`, name, sealed)
	return err
}

// Secret returns a secret; it is empty when there is none of that name.
func (s *Store) Secret(ctx context.Context, name string) (string, error) {
	var sealed []byte
	err := s.read.QueryRowContext(ctx, `SELECT sealed FROM secrets WHERE name = ?`, name).Scan(&sealed)
	if errors.Is(err, sql.ErrNoRows) {
		return "", nil
	}
	if err != nil {
		return "", err
	}
	size := s.keys.aead.NonceSize()
	if len(sealed) < size {
		return "", fmt.Errorf("the secret %s is damaged", name)
	}
	plain, err := s.keys.aead.Open(nil, sealed[:size], sealed[size:], []byte(name))
	if err != nil {
		return "", fmt.Errorf("the secret %s cannot be opened with this folder's key file: %w", name, err)
	}
	return string(plain), nil
}
