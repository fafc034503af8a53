package web

import "context"

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
	v, err := h.Desk.DropMembers(ctx, r.Id, r.Body.Emails, speak(ctx))
	return DropMembers200JSONResponse(v), err
}

func (h *handlers) InviteToGroup(ctx context.Context, r InviteToGroupRequestObject) (InviteToGroupResponseObject, error) {
	v, err := h.Desk.Invite(ctx, r.Id, speak(ctx))
	return InviteToGroup200JSONResponse(v), err
}
