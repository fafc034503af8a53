package web

import (
	"context"

	"ruvo/api"
)

func (h *handlers) GetGroups(ctx context.Context, _ GetGroupsRequestObject) (GetGroupsResponseObject, error) {
	v, err := h.Desk.Groups(ctx)
	return GetGroups200JSONResponse(v), err
}

func (h *handlers) AddGroup(ctx context.Context, r AddGroupRequestObject) (AddGroupResponseObject, error) {
	v, err := h.Desk.AddGroup(ctx, *r.Body, speak(ctx))
	return AddGroup200JSONResponse(v), err
}

func (h *handlers) PutGroup(ctx context.Context, r PutGroupRequestObject) (PutGroupResponseObject, error) {
	v, err := h.Desk.PutGroup(ctx, r.Id, *r.Body, speak(ctx))
	return PutGroup200JSONResponse(v), err
}

func (h *handlers) DropGroup(ctx context.Context, r DropGroupRequestObject) (DropGroupResponseObject, error) {
	v, err := h.Desk.DropGroup(ctx, r.Id)
	return DropGroup200JSONResponse(v), err
}

func (h *handlers) AddMembers(ctx context.Context, r AddMembersRequestObject) (AddMembersResponseObject, error) {
	v, err := h.Desk.AddMembers(ctx, r.Id, r.Body.Emails, speak(ctx))
	return AddMembers200JSONResponse(v), err
}

func (h *handlers) DropMembers(ctx context.Context, r DropMembersRequestObject) (DropMembersResponseObject, error) {
	v, err := h.Desk.DropMembers(ctx, r.Id, r.Body.Emails)
	return DropMembers200JSONResponse(v), err
}

func (h *handlers) GetPass(ctx context.Context, _ GetPassRequestObject) (GetPassResponseObject, error) {
	v, err := h.Shop.Pass(ctx)
	return GetPass200JSONResponse(v), err
}

func (h *handlers) AskPass(ctx context.Context, r AskPassRequestObject) (AskPassResponseObject, error) {
	return AskPass204Response{}, h.Shop.AskPass(ctx, *r.Body, speak(ctx))
}

func (h *handlers) DropPass(ctx context.Context, _ DropPassRequestObject) (DropPassResponseObject, error) {
	h.sessions.Remove(ctx, passKey)
	return DropPass200JSONResponse(api.Pass{}), nil
}

func (h *handlers) OpenPass(ctx context.Context, r OpenPassRequestObject) (OpenPassResponseObject, error) {
	invite := ""
	if r.Body.Invite != nil {
		invite = *r.Body.Invite
	}
	email, err := h.Shop.OpenPass(ctx, r.Body.Token, invite, speak(ctx))
	if err != nil {
		return nil, err
	}
	h.sessions.Put(ctx, passKey, email)
	v, err := h.Shop.Pass(withPass(ctx, email))
	return OpenPass200JSONResponse(v), err
}
