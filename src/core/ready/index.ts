export { type Ladder, ladderOf } from "./ladder";
export { demandsOf, isReady, type LineDemands, type ReadyRow, readinessOf } from "./line";
export { type KnowingSeat, kindsOfSeats, type Seat, scorePlace, seatsFor } from "./seats";
export {
  type Asked,
  type AskedBand,
  askBand,
  askEach,
  askedBand,
  type BandAnswer,
  type ToldKinds,
} from "./shelf";
