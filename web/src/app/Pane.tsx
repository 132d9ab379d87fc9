import classNames from "classnames/bind";
import { Button } from "antd";
import { Component, type ErrorInfo, type ReactNode } from "react";
import styles from "./app.module.css";

const cx = classNames.bind(styles);

interface Props {
  /** What stands in the pane, for its message. */
  name: string;
  /** Where its message stands, where it is not what holds the pane that places it. */
  place?: "inspector";
  children: ReactNode;
}

/** A region of the screen that can fail without taking the others along. */
export class Pane extends Component<Props, { problem: string | null }> {
  override state = { problem: null as string | null };

  static getDerivedStateFromError(error: unknown) {
    return { problem: error instanceof Error ? error.message : String(error) };
  }

  override componentDidCatch(error: unknown, info: ErrorInfo) {
    console.warn(`${this.props.name} could not be drawn.`, error, info.componentStack);
  }

  override render() {
    if (this.state.problem === null) return this.props.children;
    return (
      <div className={cx("problem", this.props.place)} role="alert">
        <p>
          {this.props.name} could not be drawn ({this.state.problem}). The model is safe: undo what you did last, or try again.
        </p>
        <Button size="small" onClick={() => this.setState({ problem: null })}>
          Try again
        </Button>
      </div>
    );
  }
}
