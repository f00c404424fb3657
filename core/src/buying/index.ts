export { buyingRoles, newBuyingPlan } from './records.ts';
export type {
  Build,
  BuyingPlan,
  BuyingProblem,
  BuyingRole,
  BuyingSources,
  GroupChoice,
  LineChoice,
  Offer,
  PriceStep,
  RequirementLine,
  TypedBar,
  WantedPiece,
} from './records.ts';
export { headingFor, roleWords, sourcesFor } from './roles.ts';
export { daysOf, NotKnown } from './offers.ts';
export { cheapestMix } from './packs.ts';
export type { Mix } from './packs.ts';
export { stockOf } from './stock.ts';
export type { StockItem } from './stock.ts';
export type { BuiltBill, Requirement } from './requirement.ts';
export { cutPlanKey, MOST_CUT, planWorth } from './cutGroups.ts';
export type { CutGroup, PlannedGroup, PlateSum } from './cutGroups.ts';
export type { LeadTime } from './leadTime.ts';
export { compareOrder, costOfOrder, nextOrderNumber } from './orders.ts';
export type { IssuedOrder, OrderCost, OrderLine } from './orders.ts';
export { driverMeasures, driversOf } from './drivers.ts';
export type { DriverMeasure } from './drivers.ts';
export { barsText, buyingNeed, buyingOf, comparePlans } from './buying.ts';
export type { BuildInput, Buying, BuyingNeed } from './buying.ts';
export { drawCutList } from './cutSheets.ts';
export { orderBill } from './orderBill.ts';
