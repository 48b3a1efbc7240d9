/** The slip of a person or a group: its frame, and what is told in it. */
import type { ReactNode } from "react";
import { Frame } from "../slip/Frame.tsx";
import styles from "../slip/slip.module.css";

interface Props {
  label: string;
  above: string;
  title: string;
  problem?: string;
  onClose(): void;
  children?: ReactNode;
}

export const Panel = ({ problem, children, ...frame }: Props) => (
  <Frame {...frame}>
    <div className={styles.panel}>
      {problem && <p className="soft">{problem}</p>}
      {children}
    </div>
  </Frame>
);
