/** All findings, in the order in which they are listed. A further one is a file beside these and a line here. */
import type { Finding } from './finding.js';
import { belowGround } from './findings/belowGround.js';
import { burnt } from './findings/burnt.js';
import { cameraInside } from './findings/cameraInside.js';
import { clearance } from './findings/clearance.js';
import { crossing } from './findings/crossing.js';
import { cutsNothing } from './findings/cutsNothing.js';
import { dark } from './findings/dark.js';
import { doubledFloor } from './findings/doubledFloor.js';
import { emptyView } from './findings/emptyView.js';
import { exposureOff } from './findings/exposureOff.js';
import { flat } from './findings/flat.js';
import { floating } from './findings/floating.js';
import { glassDepth } from './findings/glassDepth.js';
import { hiddenRendered } from './findings/hiddenRendered.js';
import { idleLight } from './findings/idleLight.js';
import { jump } from './findings/jump.js';
import { lightDrowned } from './findings/lightDrowned.js';
import { lightsOff } from './findings/lightsOff.js';
import { loopEnds } from './findings/loopEnds.js';
import { lostParts } from './findings/lostParts.js';
import { missingFiles } from './findings/missingFiles.js';
import { mixedProjection } from './findings/mixedProjection.js';
import { mixWithoutPass } from './findings/mixWithoutPass.js';
import { noEffect } from './findings/noEffect.js';
import { nearStandardSize } from './findings/nearStandardSize.js';
import { notAsDelivered } from './findings/notAsDelivered.js';
import { noRoom } from './findings/noRoom.js';
import { notWritable } from './findings/notWritable.js';
import { oddSize } from './findings/oddSize.js';
import { rendersNothing } from './findings/rendersNothing.js';
import { revealEnds } from './findings/revealEnds.js';
import { sameFrames } from './findings/sameFrames.js';
import { skyStays } from './findings/skyStays.js';
import { strobing } from './findings/strobing.js';
import { openCap } from './findings/openCap.js';
import { subjectCut } from './findings/subjectCut.js';
import { subjectHidden } from './findings/subjectHidden.js';
import { subjectSmall } from './findings/subjectSmall.js';
import { sunDown } from './findings/sunDown.js';
import { tooFast } from './findings/tooFast.js';
import { tooNear } from './findings/tooNear.js';
import { unitSuspect } from './findings/unitSuspect.js';

/** All findings, in the order in which they are listed. */
export const FINDINGS: readonly Finding[] = [
  cameraInside,
  emptyView,
  subjectCut,
  subjectHidden,
  crossing,
  subjectSmall,
  tooNear,
  belowGround,
  tooFast,
  jump,
  clearance,
  strobing,
  sameFrames,
  loopEnds,
  dark,
  burnt,
  flat,
  exposureOff,
  sunDown,
  skyStays,
  lightDrowned,
  lightsOff,
  idleLight,
  glassDepth,
  cutsNothing,
  revealEnds,
  openCap,
  lostParts,
  missingFiles,
  hiddenRendered,
  floating,
  doubledFloor,
  unitSuspect,
  rendersNothing,
  notAsDelivered,
  noRoom,
  notWritable,
  oddSize,
  nearStandardSize,
  mixedProjection,
  noEffect,
  mixWithoutPass,
];
