package store

import (
	"context"
	"crypto/aes"
	"crypto/cipher"
	"crypto/rand"
	"database/sql"
	"errors"
	"fmt"
	"os"
	"time"
)

// sealer encrypts secrets with AES-256-GCM (NIST SP 800-38D) under the folder's key file.
type sealer struct {
	aead cipher.AEAD
}

func openSealer(path string) (*sealer, error) {
	key, err := os.ReadFile(path)
	if errors.Is(err, os.ErrNotExist) {
		key = make([]byte, 32)
		if _, err = rand.Read(key); err == nil {
			err = os.WriteFile(path, key, 0o600)
		}
	}
	if err != nil {
		return nil, fmt.Errorf("the key file %s cannot be used: %w", path, err)
	}
	if len(key) != 32 {
		return nil, fmt.Errorf("the key file %s is damaged: it should be 32 bytes long", path)
	}
	block, err := aes.NewCipher(key)
	if err != nil {
		return nil, err
	}
	aead, err := cipher.NewGCM(block)
	if err != nil {
		return nil, err
	}
	return &sealer{aead}, nil
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
