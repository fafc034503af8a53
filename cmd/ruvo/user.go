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

func userCommand() *cobra.Command {
	user := &cobra.Command{Use: "user", Short: "Look after the people who work at the desk"}
	user.AddCommand(userAddCommand(), userPasswordCommand())
	return user
}

func userAddCommand() *cobra.Command {
	var folder, name string
	c := &cobra.Command{
		Use:   "add ADDRESS",
		Short: "Add a person to the desk; the password is read from standard input",
		Args:  cobra.ExactArgs(1),
		RunE: func(c *cobra.Command, args []string) error {
			email := strings.ToLower(strings.TrimSpace(args[0]))
			if a, err := mail.ParseAddress(email); err != nil || a.Address != email {
				return fmt.Errorf("%q is not a mail address such as name@example.org", args[0])
			}
			password, err := askPassword(c, email, name)
			if err != nil {
				return err
			}
			if name == "" {
				name, _, _ = strings.Cut(email, "@")
			}
			return onStore(c, folder, func(tx *store.Tx) error {
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
	data(c, &folder)
	c.Flags().StringVar(&name, "name", "", "the person's name; the address's first part when left out")
	return c
}

func userPasswordCommand() *cobra.Command {
	var folder string
	c := &cobra.Command{
		Use:   "password ADDRESS",
		Short: "Give a person a new password, read from standard input, and sign them out everywhere",
		Args:  cobra.ExactArgs(1),
		RunE: func(c *cobra.Command, args []string) error {
			email := strings.ToLower(strings.TrimSpace(args[0]))
			password, err := askPassword(c, email)
			if err != nil {
				return err
			}
			return onStore(c, folder, func(tx *store.Tx) error {
				u, err := tx.UserByEmail(email)
				if errors.Is(err, store.ErrNotFound) {
					return fmt.Errorf("nobody at the desk has the address %s", email)
				}
				if err != nil {
					return err
				}
				return desk.NewPassword(tx, u, password, time.Now())
			})
		},
	}
	data(c, &folder)
	return c
}

// onStore opens a data folder for one use case.
func onStore(c *cobra.Command, folder string, use func(*store.Tx) error) error {
	s, err := store.Open(folder)
	if err != nil {
		return err
	}
	defer s.Close()
	return s.Write(c.Context(), use)
}

// askPassword reads a password and refuses one that is guessed soon; about are
// words that somebody who guesses tries first.
func askPassword(c *cobra.Command, about ...string) (string, error) {
	fmt.Fprint(c.ErrOrStderr(), "Password: ")
	line, err := bufio.NewReader(c.InOrStdin()).ReadString('\n')
	password := strings.TrimRight(line, "\r\n")
	if password == "" && err != nil {
		return "", errors.New("no password was given on standard input")
	}
	return password, desk.CheckPassword(password, about...)
}
