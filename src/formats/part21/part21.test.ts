import { describe, expect, it } from 'vitest';
import { arcThrough, Curves, polylinePoints } from './curves.js';
import { Part21, sizeOfUnit } from './part21.js';

const file = (lines: string[]): Part21 => new Part21(`ISO-10303-21;\nHEADER;\nENDSEC;\nDATA;\n${lines.join('\n')}\nENDSEC;\nEND-ISO-10303-21;\n`);
const length = (points: number[]): number => {
  let sum = 0;
  for (let i = 0; i < points.length; i += 6) sum += Math.hypot(...[0, 1, 2].map((k) => points[i + k]! - points[i + 3 + k]!));
  return sum;
};
const lengthOf = (f: Part21, id: number, angle = 1): number => length(polylinePoints(new Curves(f, angle).chains(id)));

describe('ISO 10303-21', () => {
  it('texts may hold what looks like an entity; values nest', () => {
    const f = file(["#1=THING('it''s; #2=OTHER(1)',(1.5,-2.E-3,$,*),.T.,#3,LENGTH_MEASURE(25.4));", '#3=\n  OTHER((#1,#1));']);
    expect([...f.ids()]).toEqual([1, 3]);
    expect(f.get(1)!.args).toEqual(["it''s; #2=OTHER(1)", [1.5, -2e-3, null, null], 'T', { ref: 3 }, { type: 'LENGTH_MEASURE', args: [25.4] }]);
    expect(f.of('OTHER')).toEqual([3]);
    expect(f.get(2)).toBeNull();
  });

  it('an entity at fault says nothing, and takes no other along', () => {
    const f = file(['#1=A((((', '#2=B(1);', `#3=C(${'('.repeat(5000)});`, '#4=D(2);']);
    expect([f.get(3), f.get(4)!.args]).toEqual([null, [2]]);
  });

  it('damage shows by brackets that do not close; those within texts count for nothing', () => {
    expect(file(["#1=A('(((',(1.,(2.)));", '#2=(A(1)B(2));']).damaged()).toBeNull();
    expect(file(['#1=A(1.);', '#2=A((1.);', '#3=A(1.);']).damaged()).toBe(2);
    expect(file(['#1=A(1.));']).damaged()).toBe(1);
    expect(file(["#1=A('x);", '#2=A(1.);']).damaged()).toBe(1);
  });

  it('many statements after the last text take no longer than they should', () => {
    const lines = Array.from({ length: 40_000 }, (_, i) => `#${i + 1}=P(${i}.);`);
    expect([...file(["#99999999=T('x');", ...lines]).ids()]).toHaveLength(40_001);
  });

  it('units: SI with prefixes, and inches that say what they are', () => {
    const f = file([
      '#1=(LENGTH_UNIT()NAMED_UNIT(*)SI_UNIT(.MILLI.,.METRE.));',
      '#2=LENGTH_MEASURE_WITH_UNIT(LENGTH_MEASURE(25.4),#1);',
      "#3=(CONVERSION_BASED_UNIT('INCH',#2)LENGTH_UNIT()NAMED_UNIT(#9));",
      '#4=IFCSIUNIT(*,.PLANEANGLEUNIT.,$,.RADIAN.);',
      '#5=IFCMEASUREWITHUNIT(IFCPLANEANGLEMEASURE(0.0174532925),#4);',
      "#6=IFCCONVERSIONBASEDUNIT(#9,.PLANEANGLEUNIT.,'DEGREE',#5);",
      '#7=(MASS_UNIT()NAMED_UNIT(*)SI_UNIT(.KILO.,.GRAM.));',
    ]);
    expect(sizeOfUnit(f, 1)).toEqual({ quantity: 'length', size: 1e-3 });
    expect(sizeOfUnit(f, 3)!.size).toBeCloseTo(0.0254, 12);
    expect(sizeOfUnit(f, 6)!.size).toBeCloseTo(Math.PI / 180, 9);
    expect(sizeOfUnit(f, 7)).toBeNull();
  });
});

describe('curves', () => {
  const points = [
    "#1=CARTESIAN_POINT('',(0.,0.,0.));",
    "#2=CARTESIAN_POINT('',(1.,0.,0.));",
    "#3=CARTESIAN_POINT('',(1.,2.,0.));",
    "#4=CARTESIAN_POINT('',(0.,1.,0.));",
  ];
  const axes = ["#10=AXIS2_PLACEMENT_3D('',#1,$,$);", "#11=CIRCLE('',#10,1.);"];

  it('trimmed circles turn the way that they say, by points or by angles', () => {
    const trims = [
      "#20=TRIMMED_CURVE('',#11,(#2),(#4),.T.,.CARTESIAN.);",
      "#21=TRIMMED_CURVE('',#11,(#2),(#4),.F.,.CARTESIAN.);",
      "#22=TRIMMED_CURVE('',#11,(PARAMETER_VALUE(0.)),(PARAMETER_VALUE(90.)),.T.,.PARAMETER.);",
    ];
    const f = file([...points, ...axes, ...trims]);
    const quarter = 2 * 24 * Math.sin(Math.PI / 96);
    expect(lengthOf(f, 20)).toBeCloseTo(quarter, 9);
    expect(lengthOf(f, 21)).toBeCloseTo(3 * quarter, 9);
    expect(lengthOf(f, 22, Math.PI / 180)).toBeCloseTo(quarter, 9);
  });

  it('polylines, lines by length, composites, wireframes', () => {
    const f = file([
      ...points,
      ...axes,
      "#30=POLYLINE('',(#1,#2,#3));",
      "#31=DIRECTION('',(0.,3.,0.));",
      "#32=VECTOR('',#31,2.);",
      "#33=LINE('',#1,#32);",
      "#34=TRIMMED_CURVE('',#33,(PARAMETER_VALUE(0.)),(PARAMETER_VALUE(1.5)),.T.,.PARAMETER.);",
      '#35=COMPOSITE_CURVE_SEGMENT(.CONTINUOUS.,.T.,#30);',
      "#36=COMPOSITE_CURVE('',(#35),.F.);",
      "#40=VERTEX_POINT('',#2);",
      "#41=VERTEX_POINT('',#4);",
      "#42=EDGE_CURVE('',#40,#41,#11,.T.);",
    ]);
    expect(lengthOf(f, 30)).toBe(3);
    expect(lengthOf(f, 34)).toBeCloseTo(3, 9);
    expect(lengthOf(f, 42)).toBeCloseTo(2 * 24 * Math.sin(Math.PI / 96), 9);
  });

  it('a spline of STEP with its weights: a quarter of a circle', () => {
    const f = file([
      "#1=CARTESIAN_POINT('',(1.,0.,0.));",
      "#2=CARTESIAN_POINT('',(1.,1.,0.));",
      "#3=CARTESIAN_POINT('',(0.,1.,0.));",
      `#4=(BOUNDED_CURVE()B_SPLINE_CURVE(2,(#1,#2,#3),.UNSPECIFIED.,.F.,.F.)B_SPLINE_CURVE_WITH_KNOTS((3,3),(0.,1.),.UNSPECIFIED.)CURVE()GEOMETRIC_REPRESENTATION_ITEM()RATIONAL_B_SPLINE_CURVE((1.,${Math.SQRT1_2},1.))REPRESENTATION_ITEM(''));`,
      "#5=B_SPLINE_CURVE_WITH_KNOTS('',1,(#1,#2,#3),.UNSPECIFIED.,.F.,.F.,(2,1,2),(0.,1.,2.),.UNSPECIFIED.);",
      "#6=B_SPLINE_CURVE_WITH_KNOTS('',2,(#1,#2,#3),.UNSPECIFIED.,.F.,.F.,(999999999,3),(0.,1.),.UNSPECIFIED.);",
    ]);
    for (const p of new Curves(f, 1).chains(4)[0]!) expect(Math.hypot(p[0], p[1])).toBeCloseTo(1, 12);
    expect(lengthOf(f, 5)).toBe(2);
    expect(lengthOf(f, 6)).toBe(0);
  });

  it('IFC: coordinates in one list, arcs through three of them', () => {
    const f = file([
      '#1=IFCCARTESIANPOINTLIST2D(((0.,0.),(2.,0.),(3.,1.),(2.,2.)));',
      '#2=IFCINDEXEDPOLYCURVE(#1,(IFCLINEINDEX((1,2)),IFCARCINDEX((2,3,4))),.F.);',
      '#3=IFCINDEXEDPOLYCURVE(#1,$,.F.);',
      '#4=IFCINDEXEDPOLYCURVE(#1,(IFCLINEINDEX((1,9))),.F.);',
    ]);
    expect(lengthOf(f, 2)).toBeCloseTo(2 + 2 * 48 * Math.sin(Math.PI / 96), 9);
    expect(lengthOf(f, 3)).toBeCloseTo(2 + 2 * Math.SQRT2, 9);
    expect(lengthOf(f, 4)).toBe(0);
  });

  it('an arc through points in a line is straight', () => {
    expect(arcThrough([0, 0, 0], [1, 0, 0], [2, 0, 0])).toEqual([
      [0, 0, 0],
      [1, 0, 0],
      [2, 0, 0],
    ]);
  });
});
