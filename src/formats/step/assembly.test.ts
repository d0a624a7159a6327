import { describe, expect, it } from 'vitest';
import { stepWires } from './wires.js';

/** A set with one line from (0 0 0) to (1 0 0) in representation 20 (millimetres), and more besides. */
const file = (more: string): string => `ISO-10303-21;
DATA;
#1=(LENGTH_UNIT()NAMED_UNIT(*)SI_UNIT(.MILLI.,.METRE.));
#2=(LENGTH_UNIT()NAMED_UNIT(*)SI_UNIT($,.METRE.));
#3=(GEOMETRIC_REPRESENTATION_CONTEXT(3)GLOBAL_UNIT_ASSIGNED_CONTEXT((#1))REPRESENTATION_CONTEXT('',''));
#4=(GEOMETRIC_REPRESENTATION_CONTEXT(3)GLOBAL_UNIT_ASSIGNED_CONTEXT((#2))REPRESENTATION_CONTEXT('',''));
#10=CARTESIAN_POINT('',(0.,0.,0.));
#11=CARTESIAN_POINT('',(1.,0.,0.));
#12=POLYLINE('',(#10,#11));
#13=GEOMETRIC_CURVE_SET('',(#12));
#14=CARTESIAN_POINT('',(5.,6.,7.));
#15=DIRECTION('',(0.,0.,1.));
#16=DIRECTION('',(0.,1.,0.));
#17=AXIS2_PLACEMENT_3D('',#10,$,$);
#18=AXIS2_PLACEMENT_3D('',#14,#15,#16);
#20=SHAPE_REPRESENTATION('',(#17,#13),#3);
#21=SHAPE_REPRESENTATION('',(#18),#4);
${more}
ENDSEC;
END-ISO-10303-21;`;
const lists = (more: string): number[][] => stepWires(file(more)).lists.map((l) => l.map((v) => Number(v.toFixed(9))));
/** In the assembly, which is in metres, the line of a millimetre goes along +Y from (5 6 7). */
const PLACED = [[5, 6, 7, 5, 6.001, 7]];

describe('curves of a component', () => {
  it('stand where they are where nothing places them', () => expect(lists('')).toEqual([[0, 0, 0, 0.001, 0, 0]]));

  it('are placed by a relationship with a transformation, each unit its own', () => {
    const relation =
      "#31=(REPRESENTATION_RELATIONSHIP('','',#20,#21)REPRESENTATION_RELATIONSHIP_WITH_TRANSFORMATION(#30)SHAPE_REPRESENTATION_RELATIONSHIP());";
    expect(lists(`#30=ITEM_DEFINED_TRANSFORMATION('','',#17,#18);\n${relation}`)).toEqual(PLACED);
  });

  it('are placed by one the other way round, where the occurrence says which is the component', () => {
    const more = `#30=ITEM_DEFINED_TRANSFORMATION('','',#18,#17);
#31=(REPRESENTATION_RELATIONSHIP('','',#21,#20)REPRESENTATION_RELATIONSHIP_WITH_TRANSFORMATION(#30)SHAPE_REPRESENTATION_RELATIONSHIP());
#40=PRODUCT_DEFINITION('',$,$,$);
#41=PRODUCT_DEFINITION_SHAPE('','',#40);
#42=SHAPE_DEFINITION_REPRESENTATION(#41,#20);
#43=NEXT_ASSEMBLY_USAGE_OCCURRENCE('','','',#99,#40,$);
#44=PRODUCT_DEFINITION_SHAPE('','',#43);
#45=CONTEXT_DEPENDENT_SHAPE_REPRESENTATION(#31,#44);`;
    expect(lists(more)).toEqual(PLACED);
  });

  it('are placed by mapped items, once for each', () => {
    const more = `#30=REPRESENTATION_MAP(#17,#20);
#31=MAPPED_ITEM('',#30,#18);
#32=MAPPED_ITEM('',#30,#17);
#33=SHAPE_REPRESENTATION('',(#31,#32),#4);`;
    expect(lists(more)).toEqual([...PLACED, [0, 0, 0, 0.001, 0, 0]]);
  });

  it('that are placed in themselves do not go round for ever', () => {
    const more = `#30=ITEM_DEFINED_TRANSFORMATION('','',#17,#18);
#31=(REPRESENTATION_RELATIONSHIP('','',#20,#20)REPRESENTATION_RELATIONSHIP_WITH_TRANSFORMATION(#30)SHAPE_REPRESENTATION_RELATIONSHIP());
#32=(REPRESENTATION_RELATIONSHIP('','',#20,#20)REPRESENTATION_RELATIONSHIP_WITH_TRANSFORMATION(#30)SHAPE_REPRESENTATION_RELATIONSHIP());`;
    expect(lists(more)).toEqual([]);
  });
});
