/** Headings of what every table of bought lines begins with. */
export const LineHeads = () => (
  <>
    <th>Item</th>
    <th>Part number</th>
    <th>Name</th>
    <th className="number">Qty</th>
  </>
);
