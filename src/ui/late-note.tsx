/** How strongly a picture is drawn that is of the circuit as it was. */
export const LATE_OPACITY = 0.45;

/** Beside what is being worked out anew. */
export const LateNote = () => (
  <p className="reason quiet" role="status" data-testid="late">
    Of the circuit as it was: being worked out again.
  </p>
);
