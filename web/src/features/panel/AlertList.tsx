import classNames from "classnames/bind";
import { Button, Switch } from "antd";
import { useEffect, useMemo, useRef, useState } from "react";
import { useShallow } from "zustand/react/shallow";
import type { Schemas } from "../../api/client";
import { useBench } from "../../state/bench";
import { acknowledge, type Alert } from "../../state/panels";
import { setTime } from "../../state/runs";
import styles from "./panel.module.css";

const cx = classNames.bind(styles);

const GRADES = ["warning", "caution", "advisory"] as const;

interface Shown {
  key: string;
  id: string;
  alert: Alert;
  since: number;
  holds: boolean;
  seen: boolean;
}

/** What is to be told at an instant: what holds, and what is kept until somebody has seen it. */
export function shownAlerts(
  raised: readonly Schemas["RaisedAlert"][],
  alerts: Readonly<Record<string, Alert>>,
  acknowledged: ReadonlySet<string>,
  inhibited: ReadonlySet<string>,
  time: number | null,
): Shown[] {
  const shown: Shown[] = [];
  for (const r of raised) {
    const alert = alerts[r.alert];
    if (!alert || inhibited.has(r.alert) || (time !== null && r.since > time)) continue;
    const key = `${r.alert} ${r.since}`;
    const holds = r.until === null || r.until === undefined || (time !== null && r.until > time);
    const seen = acknowledged.has(key);
    if (holds || (alert.isLatched && !seen)) shown.push({ key, id: r.alert, alert, since: r.since, holds, seen });
  }
  return shown.sort((a, b) => GRADES.indexOf(a.alert.grade) - GRADES.indexOf(b.alert.grade) || b.since - a.since);
}

/** A short tone for a new alert, where sound is wanted. */
function beep(grade: Alert["grade"]): void {
  const audio = new AudioContext();
  const tone = audio.createOscillator();
  tone.frequency.value = { warning: 880, caution: 660, advisory: 440 }[grade];
  tone.connect(audio.destination);
  tone.start();
  tone.stop(audio.currentTime + 0.2);
}

export function AlertList() {
  const { raised, alerts, acknowledged, inhibited, time } = useBench(
    useShallow((s) => ({
      raised: s.alerts,
      alerts: s.model.alerts,
      acknowledged: s.acknowledged,
      inhibited: s.inhibited,
      time: s.time,
    })),
  );
  const [sound, setSound] = useState(false);
  const list = useMemo(() => shownAlerts(raised, alerts, acknowledged, inhibited, time), [raised, alerts, acknowledged, inhibited, time]);
  const first = list.find((a) => !a.seen);
  const told = useRef<string | undefined>(undefined);
  useEffect(() => {
    if (sound && first && told.current !== first.key) beep(first.alert.grade);
    told.current = first?.key;
  }, [sound, first]);
  const inhibit = (id: string) => {
    const next = new Set(inhibited);
    if (!next.delete(id)) next.add(id);
    useBench.setState({ inhibited: next });
  };
  return (
    <section className={cx("alerts")} aria-label="Alerts">
      <header>
        <b>Alerts</b>
        <span className="quiet">since, s</span>
        <label>
          <Switch size="small" checked={sound} onChange={setSound} aria-label="Sound" /> <small>sound</small>
        </label>
      </header>
      <ul aria-live="polite">
        {list.map((a) => (
          <li key={a.key} className={cx(a.alert.grade, { seen: a.seen, over: !a.holds })}>
            <i aria-label={a.alert.grade} />
            <Button type="link" size="small" onClick={() => setTime(a.since)} title="Go to the instant at which it came">
              {a.alert.text}
            </Button>
            <span className="mono">{a.since.toFixed(1)}</span>
            {a.seen ? (
              <Button type="text" size="small" onClick={() => inhibit(a.id)}>
                inhibit
              </Button>
            ) : (
              <Button type="text" size="small" onClick={() => acknowledge(a.key)}>
                seen
              </Button>
            )}
          </li>
        ))}
        {list.length === 0 && (
          <li className="quiet">{Object.keys(alerts).length === 0 ? "The model has no alerts yet." : "Nothing to tell."}</li>
        )}
      </ul>
      {inhibited.size > 0 && (
        <Button type="text" size="small" onClick={() => useBench.setState({ inhibited: new Set() })}>
          {inhibited.size} inhibited: tell them again
        </Button>
      )}
    </section>
  );
}
