import type { gate } from '../../gate/gate';
import type { askAt } from '../../line/look-up';
import type { onReceipt } from '../../outcome/states';
import type { moveOf } from '../../runs/life';
import type { nextOf } from '../../runs/next';
import type { JobRules } from './sim-jobs';

/** Rules of the desk that are broken on purpose, to see that the simulator finds it. */
export interface DeskRules {
  /** The machines, each replaced by one that is wrong. */
  life?: typeof moveOf;
  next?: typeof nextOf;
  ask?: typeof gate;
  receipt?: typeof onReceipt;
  askAt?: typeof askAt;
  /** The line does not look whether its owner has been taken over. */
  unfencedLine?: boolean;
  jobs?: JobRules;
  /** A press does not know of one with its id that was called off. */
  pressForgets?: boolean;
  /** A press does not look whether its draft is what it was. */
  pressesOld?: boolean;
  /** The id of a run that was undone stays taken until it is cleared away. */
  idStays?: boolean;
  /** Storing does not look how far somebody else has come. */
  storesBlindly?: boolean;
  /** Storing does not look whether the run was called off. */
  storesOff?: boolean;
  /** What the server plans does not look whether its broadcast was written anew. */
  plansOld?: boolean;
  /** A date may be taken twice, an import may bring two runs. */
  datesTwice?: boolean;
  importsTwice?: boolean;
  /** An import that was undone while its run was planned brings it all the same. */
  undoneGoes?: boolean;
  /** Money that was held for a run that is called off stays held. */
  keepsMoney?: boolean;
  /** A reply is acknowledged before it is stored. */
  acknowledgesFirst?: boolean;
  /** A stop that is not acted on yet holds nothing. */
  holdsNothing?: boolean;
  /** A reply that the carrier brings twice is two. */
  takesTwice?: boolean;
  /** What is passed on is not looked at again when it goes. */
  passesTwice?: boolean;
  /** What a line has in hand is taken from it. */
  sweepsLeased?: boolean;
  /** Lists are not cleaned after a run. */
  cleansNothing?: boolean;
}
