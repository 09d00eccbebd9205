/** When a part of the page cannot be drawn: a sentence and a way on. React has no hook for it, hence the class. */

import { Component, type ReactNode } from "react";
import { Button } from "./Button";

type Props = { readonly what: string; readonly children: ReactNode };

export class ErrorBoundary extends Component<Props, { readonly failed: boolean }> {
  override state = { failed: false };

  static getDerivedStateFromError() {
    return { failed: true };
  }

  override render() {
    if (!this.state.failed) return this.props.children;
    return (
      <p role="alert" className="flex flex-wrap items-baseline gap-3 p-5 font-book text-small font-normal text-ink-2">
        {this.props.what} cannot be shown. Nothing of your work is lost.
        <Button onClick={() => this.setState({ failed: false })}>try again</Button>
      </p>
    );
  }
}
