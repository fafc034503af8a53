package desk

import (
	"context"
	"fmt"
	"regexp"
	"slices"
	"strings"

	"ruvo/api"
	"ruvo/internal/core/question"
	"ruvo/internal/core/words"
	"ruvo/internal/problem"
	"ruvo/internal/store"
)

// Groups lists the customer groups with their members.
func (d *Desk) Groups(ctx context.Context) ([]api.CustomerGroup, error) {
	var views []api.CustomerGroup
	err := d.Store.Read(ctx, func(tx *store.Tx) (err error) {
		views, err = groupViews(tx)
		return err
	})
	return views, err
}

func groupViews(tx *store.Tx) ([]api.CustomerGroup, error) {
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
		views[i] = api.CustomerGroup{Id: g.ID, Key: g.Key, Name: g.Name, Domains: g.Domains, Invite: b.Address + "/join/" + g.Invite, Members: []api.GroupMember{}}
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

func (d *Desk) groupChange(ctx context.Context, change func(*store.Tx) error) ([]api.CustomerGroup, error) {
	var views []api.CustomerGroup
	err := d.Store.Write(ctx, func(tx *store.Tx) error {
		if err := change(tx); err != nil {
			return err
		}
		var err error
		views, err = groupViews(tx)
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
	return d.groupChange(ctx, func(tx *store.Tx) error {
		groups, err := tx.Groups()
		if err != nil {
			return err
		}
		g := store.CustomerGroup{Key: slug(name), Name: name, Domains: domains, Invite: randomLetters(20)}
		for n := 2; slices.ContainsFunc(groups, func(o store.CustomerGroup) bool { return o.Key == g.Key }); n++ {
			g.Key = fmt.Sprintf("%s-%d", slug(name), n)
		}
		return tx.SaveGroup(&g)
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
	return d.groupChange(ctx, func(tx *store.Tx) error {
		g, err := d.group(tx, id, l)
		if err != nil {
			return err
		}
		g.Name, g.Domains = name, domains
		return tx.SaveGroup(&g)
	})
}

// DropGroup takes a group away with its members. What names it stays and holds
// for nobody.
func (d *Desk) DropGroup(ctx context.Context, id int64) ([]api.CustomerGroup, error) {
	return d.groupChange(ctx, func(tx *store.Tx) error { return tx.DropGroup(id) })
}

// AddMembers puts mail addresses into a group.
func (d *Desk) AddMembers(ctx context.Context, id int64, emails []string, l words.Language) ([]api.CustomerGroup, error) {
	return d.groupChange(ctx, func(tx *store.Tx) error {
		g, err := d.group(tx, id, l)
		if err != nil {
			return err
		}
		for _, e := range emails {
			email := question.MailAddress(e)
			if email == "" || len(emails) > 5000 {
				return problem.Invalid(l, []api.FieldError{problem.Field(l, "emails", "address", words.Params{"what": e})})
			}
			if err := tx.Join(store.Member{Email: email, GroupID: g.ID, Joined: "hand", CreatedAt: d.Now().UTC()}); err != nil {
				return err
			}
		}
		return nil
	})
}

// DropMembers takes mail addresses out of a group.
func (d *Desk) DropMembers(ctx context.Context, id int64, emails []string) ([]api.CustomerGroup, error) {
	return d.groupChange(ctx, func(tx *store.Tx) error {
		for _, e := range emails {
			if err := tx.Leave(id, question.MailAddress(e)); err != nil {
				return err
			}
		}
		return nil
	})
}
