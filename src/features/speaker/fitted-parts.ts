import type { Variant } from '@/core/design/document/schema';
import { formOf, specsOf, stageName } from '@/core/design/stages/stage-design';
import { stageTopology } from '@/core/design/stages/stage-topology';
import type { PartKind } from '@/core/topology/kit/part';

/** A part of a crossover that a fit may move. */
export interface FittedPart {
  readonly way: string;
  readonly stage: string;
  readonly stageName: string;
  readonly part: string;
  readonly kind: PartKind;
  readonly key: string;
}

/** Every part of the variant that stands in the circuit and is not given by its driver. */
export const fittedPartsOf = ({ ways }: Pick<Variant, 'ways'>): FittedPart[] =>
  ways.flatMap((way) =>
    way.stages
      .filter((stage) => !stage.bypassed)
      .flatMap((stage) =>
        specsOf(stageTopology(stage, way), formOf(way, stage))
          .filter((spec) => !spec.given && !stage.parts[spec.name]?.leftOut)
          .map((spec) => ({
            way: way.name,
            stage: stage.id,
            stageName: stageName(way, stage),
            part: spec.name,
            kind: spec.kind,
            key: `${stage.id} ${spec.name}`,
          })),
      ),
  );
