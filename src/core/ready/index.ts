export { type Ladder, ladderOf } from "./ladder";
export { demandsOf, isReady, type LineDemands, type ReadyRow, readinessOf } from "./line";
export { type KnowingSeat, kindsOfSeats, type Seat, scorePlace, seatsFor } from "./seats";
export { askBand, type BandAnswer } from "./shelf";
