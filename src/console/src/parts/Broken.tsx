import { Component, type ReactNode } from "react";

/** What stands instead of a page that failed in this browser; what was typed on it is kept. */
export class Broken extends Component<{ children: ReactNode }, { failed: boolean }> {
  state = { failed: false };

  static getDerivedStateFromError() {
    return { failed: true };
  }

  render() {
    if (!this.state.failed) return this.props.children;
    return (
      <div className="problem" role="alert">
        This page failed in your browser. Nothing was written, and what you typed is kept.{" "}
        <button onClick={() => this.setState({ failed: false })}>Try again</button>
      </div>
    );
  }
}
