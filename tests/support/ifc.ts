/** A small house of boxes in IFC, in millimetres: two storeys, walls, an opening with a window, a space. Invented. */
class Lines {
  readonly list: string[] = [];

  add(text: string): string {
    this.list.push(`#${this.list.length + 1}=${text};`);
    return `#${this.list.length}`;
  }
}

let serial = 0;
/** 22 characters of the alphabet that identifiers have; all that counts is that no two are equal. */
const id = (): string => `'${(++serial).toString(36).padStart(22, '0')}'`;

/** `schema` is IFC2X3 or IFC4; the entities used here are written alike in both but for a few trailing values. */
export function houseIfc(schema: 'IFC2X3' | 'IFC4'): string {
  const four = schema === 'IFC4';
  const l = new Lines();
  const point = (x: number, y: number, z?: number): string =>
    l.add(`IFCCARTESIANPOINT((${[x, y, ...(z === undefined ? [] : [z])].map((v) => v.toFixed(1)).join(',')}))`);
  const origin = point(0, 0, 0);
  const up = l.add('IFCDIRECTION((0.,0.,1.))');
  const x = l.add('IFCDIRECTION((1.,0.,0.))');
  const axes = (p: string): string => l.add(`IFCAXIS2PLACEMENT3D(${p},${up},${x})`);
  const at = (dx: number, dy: number, dz: number, above = '$'): string => l.add(`IFCLOCALPLACEMENT(${above},${axes(point(dx, dy, dz))})`);
  const person = l.add("IFCPERSON($,'Test',$,$,$,$,$,$)");
  const office = l.add("IFCORGANIZATION($,'Test',$,$,$)");
  const both = l.add(`IFCPERSONANDORGANIZATION(${person},${office},$)`);
  const tool = l.add(`IFCAPPLICATION(${office},'1','Test','test')`);
  const owner = l.add(`IFCOWNERHISTORY(${both},${tool},$,.ADDED.,$,$,$,0)`);
  const units = l.add(
    `IFCUNITASSIGNMENT((${l.add('IFCSIUNIT(*,.LENGTHUNIT.,.MILLI.,.METRE.)')},${l.add('IFCSIUNIT(*,.AREAUNIT.,$,.SQUARE_METRE.)')},${l.add('IFCSIUNIT(*,.PLANEANGLEUNIT.,$,.RADIAN.)')}))`,
  );
  const context = l.add(`IFCGEOMETRICREPRESENTATIONCONTEXT($,'Model',3,1.E-05,${axes(origin)},$)`);
  const project = l.add(`IFCPROJECT(${id()},${owner},'House',$,$,$,$,(${context}),${units})`);
  const ground = at(0, 0, 0);
  const site = l.add(`IFCSITE(${id()},${owner},'Plot',$,$,${ground},$,$,.ELEMENT.,$,$,$,$,$)`);
  const building = l.add(`IFCBUILDING(${id()},${owner},'Boathouse',$,$,${at(0, 0, 0, ground)},$,$,.ELEMENT.,$,$,$)`);
  const level = (name: string, z: number): { line: string; place: string } => {
    const place = at(0, 0, z, ground);
    return { line: l.add(`IFCBUILDINGSTOREY(${id()},${owner},'${name}',$,$,${place},$,$,.ELEMENT.,${z.toFixed(1)})`), place };
  };
  const lower = level('Ground floor', 0);
  const upper = level('Loft', 3000);
  const within = (one: string, many: string[]): string => l.add(`IFCRELAGGREGATES(${id()},${owner},$,$,${one},(${many.join(',')}))`);
  within(project, [site]);
  within(site, [building]);
  within(building, [lower.line, upper.line]);

  /** A box with a corner at the placement's origin. */
  const solid = (dx: number, dy: number, dz: number): string => {
    const profile = l.add(
      `IFCRECTANGLEPROFILEDEF(.AREA.,$,${l.add(`IFCAXIS2PLACEMENT2D(${point(dx / 2, dy / 2)},$)`)},${dx.toFixed(1)},${dy.toFixed(1)})`,
    );
    return l.add(`IFCEXTRUDEDAREASOLID(${profile},${axes(origin)},${up},${dz.toFixed(1)})`);
  };
  const shape = (body: string): string =>
    l.add(`IFCPRODUCTDEFINITIONSHAPE($,$,(${l.add(`IFCSHAPEREPRESENTATION(${context},'Body','SweptSolid',(${body}))`)}))`);
  const colour = (body: string, rgb: [number, number, number], clear = 0): void => {
    const c = l.add(`IFCCOLOURRGB($,${rgb.map((v) => v.toFixed(3)).join(',')})`);
    const shading = l.add(`IFCSURFACESTYLERENDERING(${c},${clear.toFixed(2)},$,$,$,$,$,$,.NOTDEFINED.)`);
    const style = l.add(`IFCSURFACESTYLE('paint',.BOTH.,(${shading}))`);
    l.add(`IFCSTYLEDITEM(${body},(${four ? style : l.add(`IFCPRESENTATIONSTYLEASSIGNMENT((${style}))`)}),$)`);
  };
  const wall = (name: string, place: string, size: [number, number, number]): string => {
    const body = solid(...size);
    colour(body, [0.8, 0.2, 0.1]);
    return l.add(`IFCWALL(${id()},${owner},'${name}',$,$,${place},${shape(body)},'w'${four ? ',.STANDARD.' : ''})`);
  };
  const south = at(0, 0, 0, lower.place);
  const a = wall('South wall', south, [6000, 200, 3000]);
  const b = wall('North wall', at(0, 3800, 0, lower.place), [6000, 200, 3000]);
  const c = wall('Gable', at(0, 0, 0, upper.place), [200, 4000, 2000]);
  const hole = at(1000, 0, 900, south);
  const opening = l.add(`IFCOPENINGELEMENT(${id()},${owner},'Opening',$,$,${hole},${shape(solid(1200, 200, 1200))},'o'${four ? ',.OPENING.' : ''})`);
  l.add(`IFCRELVOIDSELEMENT(${id()},${owner},$,$,${a},${opening})`);
  const pane = solid(1200, 40, 1200);
  colour(pane, [0.7, 0.8, 0.8], 0.7);
  const window = l.add(
    `IFCWINDOW(${id()},${owner},'Window',$,$,${at(0, 80, 0, hole)},${shape(pane)},'p',1200.,1200.${four ? ',.WINDOW.,.SINGLE_PANEL.,$' : ''})`,
  );
  l.add(`IFCRELFILLSELEMENT(${id()},${owner},$,$,${opening},${window})`);
  const space = l.add(
    `IFCSPACE(${id()},${owner},'Hall',$,$,${at(200, 200, 0, lower.place)},${shape(solid(5600, 3600, 2800))},$,.ELEMENT.,.INTERNAL.,$)`,
  );
  within(lower.line, [space]);
  // A door's swing as a plan shows it: a leaf of 900 mm and a quarter of a circle, drawn on the ground floor.
  const leaf = l.add(`IFCPOLYLINE((${point(0, 0)},${point(900, 0)}))`);
  const round = l.add(`IFCCIRCLE(${l.add(`IFCAXIS2PLACEMENT2D(${point(0, 0)},$)`)},900.)`);
  const swing = l.add(`IFCTRIMMEDCURVE(${round},(IFCPARAMETERVALUE(0.)),(IFCPARAMETERVALUE(${(Math.PI / 2).toFixed(12)})),.T.,.PARAMETER.)`);
  const curves = l.add(`IFCSHAPEREPRESENTATION(${context},'Annotation','GeometricCurveSet',(${l.add(`IFCGEOMETRICCURVESET((${leaf},${swing}))`)}))`);
  const drawn = l.add(`IFCPRODUCTDEFINITIONSHAPE($,$,(${curves}))`);
  const note = l.add(`IFCANNOTATION(${id()},${owner},'Door swing',$,$,${at(2000, 1000, 0, lower.place)},${drawn})`);
  const holds = (storey: string, many: string[]): string =>
    l.add(`IFCRELCONTAINEDINSPATIALSTRUCTURE(${id()},${owner},$,$,(${many.join(',')}),${storey})`);
  holds(lower.line, [a, b, window, note]);
  holds(upper.line, [c]);
  return `ISO-10303-21;\nHEADER;\nFILE_DESCRIPTION((''),'2;1');\nFILE_NAME('house.ifc','2026-01-01T00:00:00',(''),(''),'','','');\nFILE_SCHEMA(('${schema}'));\nENDSEC;\nDATA;\n${l.list.join('\n')}\nENDSEC;\nEND-ISO-10303-21;\n`;
}
