/** What stands in the viewport beside the model: light with its shadows, the ground, a plinth. */
import { type ReactNode, useMemo } from 'react';
import { BufferAttribute, BufferGeometry, Color, type Group, RingGeometry } from 'three';
import { toMaterial } from '../../core/materials/customMaterial.js';
import { libraryMaterial } from '../../core/materials/library.js';
import type { Vec3 } from '../../core/math/bounds.js';
import { type ResolvedTransform, plinthMesh } from '../../core/model/modelTransform.js';
import type { SetFile } from '../../core/plan/set.js';
import type { Stage } from '../../core/stage/stage.js';
import { lightBeam } from './light.js';

type PlinthOf = NonNullable<ResolvedTransform['plinth']>;

function blockOf(plinth: PlinthOf): BufferGeometry {
  const { positions, normals, indices } = plinthMesh(plinth);
  return new BufferGeometry()
    .setAttribute('position', new BufferAttribute(positions, 3))
    .setAttribute('normal', new BufferAttribute(normals!, 3))
    .setIndex(new BufferAttribute(indices, 1));
}

/** The colour that its material has; the model's own materials are left to the engine. */
function plinthColour(name: string, assignments: SetFile['materials']): Color {
  const own = assignments?.materials.find((f) => f.name === name);
  const material = own ? toMaterial(own) : libraryMaterial(name);
  return new Color(...(material?.base ?? [0.7, 0.7, 0.7]));
}

/** A disc in the xy plane, whole up to the inner radius and gone at the outer one. */
function fadingDisc(inner: number, outer: number): RingGeometry {
  const rings = 12;
  const disc = new RingGeometry(inner, outer, 64, rings);
  const { position } = disc.attributes as { position: BufferAttribute };
  const colours = new Float32Array(position.count * 4).fill(1);
  for (let i = 0; i < position.count; i++) {
    const far = Math.hypot(position.getX(i), position.getY(i));
    colours[4 * i + 3] = Math.max(0, (outer - far) / (outer - inner));
    // The innermost ring is drawn together to the middle.
    if (far < inner * 1.001) position.setXY(i, 0, 0);
  }
  disc.setAttribute('color', new BufferAttribute(colours, 4));
  return disc;
}

/** The stage's directional light, each with its shadow's room round the subject; the first alone casts one. */
export function Beams({ stage, middle, radius, aim }: { stage: Stage; middle: Vec3; radius: number; aim: Group }): ReactNode {
  const beams = stage.lights.map((light) => lightBeam(light, middle)).filter((b) => b !== null);
  return beams.map((beam, i) => {
    const most = Math.max(...beam.irradiance);
    return (
      <directionalLight
        key={i}
        position={middle.map((c, k) => c + 2 * radius * beam.from[k]!) as Vec3}
        intensity={most}
        color={new Color(...beam.irradiance.map((c) => c / most))}
        castShadow={i === 0}
        shadow-mapSize={[2048, 2048]}
        shadow-normalBias={radius / 500}
        target={aim}
      >
        <orthographicCamera attach="shadow-camera" args={[-radius, radius, radius, -radius, 0.01 * radius, 4 * radius]} />
      </directionalLight>
    );
  });
}

/** The ground, which fades with its distance. */
export function Ground({ base }: { base: NonNullable<Stage['base']> }): ReactNode {
  const plane = useMemo(() => fadingDisc(base.inner, base.outer), [base]);
  return (
    <mesh receiveShadow rotation={[-Math.PI / 2, 0, 0]} position={[base.x, base.height - 1e-3, base.z]}>
      <primitive object={plane} attach="geometry" />
      {base.shadowCatcher ? (
        <shadowMaterial opacity={0.4} transparent />
      ) : (
        <meshStandardMaterial
          color={new Color(...(base.material?.base ?? base.colour))}
          roughness={base.material?.roughness ?? base.roughness}
          metalness={base.material?.metalness ?? 0}
          vertexColors
          transparent
        />
      )}
    </mesh>
  );
}

/** The block under the model. `plinth` must be the same object as long as its numbers are equal. */
export function Plinth({ plinth, materials }: { plinth: PlinthOf; materials: SetFile['materials'] }): ReactNode {
  const block = useMemo(() => blockOf(plinth), [plinth]);
  return (
    <mesh geometry={block} castShadow receiveShadow>
      <meshStandardMaterial color={plinthColour(plinth.material, materials)} roughness={0.5} />
    </mesh>
  );
}
