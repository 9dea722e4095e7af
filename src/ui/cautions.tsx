'use client';

import styles from './cautions.module.css';

/** What is to be thought of before the first sound. */
export function Cautions() {
  return (
    <div className={styles.cautions}>
      <p className="caution">
        Turn the output down first. A sweep harms tweeters and ears: begin low, with a capacitor in line with a tweeter.
      </p>
      <p className="caution">
        Never a power amplifier’s output into a card: build the divider below, and know whether the amplifier is
        bridged, for then neither terminal is ground. Mains-powered apparatus is for qualified people and local codes.
      </p>
      <svg viewBox="0 0 330 84" className={styles.divider} role="img" aria-label="Divider before the card’s input">
        <path d="M20 22h60m44 0h46m0 0v12m0 32v12m-150 0h230m-80 -56h80" className="line" />
        <path d="M80 15h44v14h-44z" className="line" />
        <path d="M163 34h14v32h-14z" className="line" />
        <text x="102" y="11" textAnchor="middle" className="name">
          10 kΩ
        </text>
        <text x="184" y="54" className="name">
          1 kΩ
        </text>
        <text x="16" y="40" className="name">
          amplifier
        </text>
        <text x="254" y="26" className="name">
          card, a tenth
        </text>
      </svg>
    </div>
  );
}
