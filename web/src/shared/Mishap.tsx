import { Button } from "antd";
import i18next from "i18next";
import { Component, type ReactNode } from "react";

// Mishap stands in the place of a page that failed to draw. What was typed is
// kept in the browser or on the server, so loading the page again is safe.
export class Mishap extends Component<{ children: ReactNode }, { failed: boolean }> {
  state = { failed: false };

  static getDerivedStateFromError() {
    return { failed: true };
  }

  render() {
    if (!this.state.failed) return this.props.children;
    return (
      <div className="notice bad row" role="alert">
        <span className="grow">{i18next.t("This page failed to draw. What you typed is kept.")}</span>
        <Button onClick={() => window.location.reload()}>{i18next.t("Load it again")}</Button>
      </div>
    );
  }
}
