/** One thing that can be done at the desk by name. */
export interface DeskAction {
  readonly id: string;
  readonly name: string;
  /** Words it is found by, besides its name. */
  readonly words?: string;
  /** Key as react-hotkeys-hook writes it. */
  readonly keys?: string;
  readonly group: 'Tasks' | 'Views' | 'Design' | 'Export' | 'Look';
  readonly run: () => void;
}
