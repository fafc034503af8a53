package desk

import (
	"context"
	"errors"
	"fmt"
	"regexp"
	"slices"
	"strings"

	"ruvo/api"
	"ruvo/internal/core/question"
	"ruvo/internal/core/words"
	"ruvo/internal/link"
	"ruvo/internal/problem"
	"ruvo/internal/store"
)

// Groups lists the customer groups with their members.
func (d *Desk) Groups(ctx context.Context) ([]api.CustomerGroup, error) {
	var views []api.CustomerGroup
	err := d.Store.Read(ctx, func(tx *store.Tx) (err error) {
		views, err = groupViews(tx, nil)
		return err
	})
	return views, err
}

// An invitation is the secret of a group's sign-up link, which is known only
// while it is made.
type invitation struct {
	group  int64
	secret string
}

// invite makes a new invitation to a group; the one before opens nothing then.
func invite(g *store.CustomerGroup) *invitation {
	i := &invitation{secret: link.Secret()}
	g.Invite = link.Hash(i.secret)
	return i
}

func groupViews(tx *store.Tx, made *invitation) ([]api.CustomerGroup, error) {
	b, err := tx.Business()
	if err != nil {
		return nil, err
	}
	groups, err := tx.Groups()
	if err != nil {
		return nil, err
	}
	members, err := tx.Members()
	views := make([]api.CustomerGroup, len(groups))
	for i, g := range groups {
		views[i] = api.CustomerGroup{Id: g.ID, Key: g.Key, Name: g.Name, Domains: g.Domains, Members: []api.GroupMember{}}
		if made != nil && made.group == g.ID {
			address := b.Address + "/join/" + made.secret
			views[i].Invite = &address
		}
		if views[i].Domains == nil {
			views[i].Domains = []string{}
		}
		for _, m := range members {
			if m.GroupID == g.ID {
				views[i].Members = append(views[i].Members, api.GroupMember{Email: m.Email, Joined: api.GroupMemberJoined(m.Joined)})
			}
		}
	}
	return views, err
}

// groupChange runs a change of groups, keeps it in the log with what it gives of
// itself, and lists all of them.
func (d *Desk) groupChange(ctx context.Context, e event, change func(*store.Tx) (about string, made *invitation, err error)) ([]api.CustomerGroup, error) {
	var views []api.CustomerGroup
	err := d.Store.Write(ctx, func(tx *store.Tx) error {
		about, made, err := change(tx)
		if err != nil {
			return err
		}
		if err := d.log(ctx, tx, e, about); err != nil {
			return err
		}
		views, err = groupViews(tx, made)
		return err
	})
	return views, err
}

var domainForm = regexp.MustCompile(`^[a-z0-9]([a-z0-9-]*[a-z0-9])?(\.[a-z0-9]([a-z0-9-]*[a-z0-9])?)+$`)

// groupFrom checks what a group is changed to.
func groupFrom(c api.GroupChange, l words.Language) (string, []string, error) {
	name := strings.TrimSpace(c.Name)
	var wrong []api.FieldError
	if name == "" || question.Characters(name) > 80 {
		wrong = append(wrong, problem.Field(l, "name", "group_name", nil))
	}
	domains := []string{}
	for _, x := range c.Domains {
		x = strings.TrimPrefix(strings.ToLower(strings.TrimSpace(x)), "@")
		if !domainForm.MatchString(x) || len(x) > 200 || len(domains) > 100 {
			wrong = append(wrong, problem.Field(l, "domains", "domain", nil))
			break
		}
		if !slices.Contains(domains, x) {
			domains = append(domains, x)
		}
	}
	if len(wrong) > 0 {
		return "", nil, problem.Invalid(l, wrong)
	}
	return name, domains, nil
}

// AddGroup makes a customer group. Its key, which prices name, is made from its
// name and stays.
func (d *Desk) AddGroup(ctx context.Context, c api.GroupChange, l words.Language) ([]api.CustomerGroup, error) {
	name, domains, err := groupFrom(c, l)
	if err != nil {
		return nil, err
	}
	return d.groupChange(ctx, groupAdded, func(tx *store.Tx) (string, *invitation, error) {
		groups, err := tx.Groups()
		if err != nil {
			return "", nil, err
		}
		g := store.CustomerGroup{Key: slug(name), Name: name, Domains: domains}
		made := invite(&g)
		for n := 2; slices.ContainsFunc(groups, func(o store.CustomerGroup) bool { return o.Key == g.Key }); n++ {
			g.Key = fmt.Sprintf("%s-%d", slug(name), n)
		}
		err = tx.SaveGroup(&g)
		made.group = g.ID
		return name, made, err
	})
}

// Invite makes a new sign-up link to a group. The one before opens nothing from
// then on.
func (d *Desk) Invite(ctx context.Context, id int64, l words.Language) ([]api.CustomerGroup, error) {
	return d.groupChange(ctx, groupInvited, func(tx *store.Tx) (string, *invitation, error) {
		g, err := d.group(tx, id, l)
		if err != nil {
			return "", nil, err
		}
		made := invite(&g)
		made.group = id
		return g.Name, made, tx.SaveGroup(&g)
	})
}

func (d *Desk) group(tx *store.Tx, id int64, l words.Language) (store.CustomerGroup, error) {
	g, err := tx.GroupByID(id)
	return g, problem.Missing(err, l, "no_group")
}

// PutGroup renames a group and says whose mail domains belong to it.
func (d *Desk) PutGroup(ctx context.Context, id int64, c api.GroupChange, l words.Language) ([]api.CustomerGroup, error) {
	name, domains, err := groupFrom(c, l)
	if err != nil {
		return nil, err
	}
	return d.groupChange(ctx, groupChanged, func(tx *store.Tx) (string, *invitation, error) {
		g, err := d.group(tx, id, l)
		if err != nil {
			return "", nil, err
		}
		g.Name, g.Domains = name, domains
		return name, nil, tx.SaveGroup(&g)
	})
}

// DropGroup takes a group away with its members. What names it stays and holds
// for nobody.
func (d *Desk) DropGroup(ctx context.Context, id int64) ([]api.CustomerGroup, error) {
	return d.groupChange(ctx, groupDropped, func(tx *store.Tx) (string, *invitation, error) {
		g, err := tx.GroupByID(id)
		if errors.Is(err, store.ErrNotFound) { // it is gone, as was wanted
			return "", nil, nil
		}
		if err != nil {
			return "", nil, err
		}
		return g.Name, nil, tx.DropGroup(id)
	})
}

// AddMembers puts mail addresses into a group.
func (d *Desk) AddMembers(ctx context.Context, id int64, emails []string, l words.Language) ([]api.CustomerGroup, error) {
	return d.groupChange(ctx, membersAdded, func(tx *store.Tx) (string, *invitation, error) {
		g, err := d.group(tx, id, l)
		if err != nil {
			return "", nil, err
		}
		for _, e := range emails {
			email := question.MailAddress(e)
			if email == "" || len(emails) > 5000 {
				return "", nil, problem.Invalid(l, []api.FieldError{problem.Field(l, "emails", "address", words.Params{"what": e})})
			}
			if err := tx.Join(store.Member{Email: email, GroupID: g.ID, Joined: "hand", CreatedAt: d.Now().UTC()}); err != nil {
				return "", nil, err
			}
		}
		return counted(g.Name, len(emails)), nil, nil
	})
}

// DropMembers takes mail addresses out of a group.
func (d *Desk) DropMembers(ctx context.Context, id int64, emails []string, l words.Language) ([]api.CustomerGroup, error) {
	return d.groupChange(ctx, membersDropped, func(tx *store.Tx) (string, *invitation, error) {
		g, err := d.group(tx, id, l)
		if err != nil {
			return "", nil, err
		}
		for _, e := range emails {
			if err := tx.Leave(id, question.MailAddress(e)); err != nil {
				return "", nil, err
			}
		}
		return counted(g.Name, len(emails)), nil, nil
	})
}

// counted names something with how many it was, for the log, which keeps no
// customer's address.
func counted(what string, n int) string { return fmt.Sprintf("%s (%d)", what, n) }
