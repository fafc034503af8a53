package main

import (
	"bufio"
	"errors"
	"fmt"
	"net/mail"
	"strings"
	"time"

	"github.com/spf13/cobra"

	"ruvo/internal/desk"
	"ruvo/internal/store"
)

// shortestPassword follows OWASP ASVS 5, 6.2.1 (from memory).
const shortestPassword = 8

func userCommand() *cobra.Command {
	var folder, name string
	add := &cobra.Command{
		Use:   "add ADDRESS",
		Short: "Add a person to the desk; the password is read from standard input",
		Args:  cobra.ExactArgs(1),
		RunE: func(c *cobra.Command, args []string) error {
			email := strings.ToLower(strings.TrimSpace(args[0]))
			if a, err := mail.ParseAddress(email); err != nil || a.Address != email {
				return fmt.Errorf("%q is not a mail address such as name@example.org", args[0])
			}
			fmt.Fprint(c.ErrOrStderr(), "Password: ")
			line, err := bufio.NewReader(c.InOrStdin()).ReadString('\n')
			password := strings.TrimRight(line, "\r\n")
			if password == "" && err != nil {
				return errors.New("no password was given on standard input")
			}
			if len([]rune(password)) < shortestPassword {
				return fmt.Errorf("the password needs at least %d characters", shortestPassword)
			}
			s, err := store.Open(folder)
			if err != nil {
				return err
			}
			defer s.Close()
			if name == "" {
				name, _, _ = strings.Cut(email, "@")
			}
			return s.Write(c.Context(), func(tx *store.Tx) error {
				if _, err := tx.UserByEmail(email); err == nil {
					return fmt.Errorf("%s is there already", email)
				}
				u := store.User{Email: email, Name: name, Password: desk.HashPassword(password), CreatedAt: time.Now().UTC()}
				if err := tx.AddUser(&u); err != nil {
					return err
				}
				return desk.AddedPerson(tx, u, u.CreatedAt)
			})
		},
	}
	data(add, &folder)
	add.Flags().StringVar(&name, "name", "", "the person's name; the address's first part when left out")
	user := &cobra.Command{Use: "user", Short: "Look after the people who work at the desk"}
	user.AddCommand(add)
	return user
}
