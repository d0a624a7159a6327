/** Sheen: Estevez and Kulla, "Production friendly microfacet sheen BRDF", 2017. */
import { PI } from "../math";

/** x^y for x in (0, 1]: base-two logarithm and exponential by fitted polynomials, good to 1e-6. */
function power(x: f32, y: f32): f32 {
  const bits = reinterpret<u32>(x);
  const e = <f32>(<i32>(bits >> 23) - 127);
  const m: f32 = reinterpret<f32>((bits & 0x007fffff) | 0x3f800000) - 1;
  const log: f32 = e + m * (<f32>1.442694767 + m * (<f32>-0.721310723 + m * (<f32>0.480073752 + m * (<f32>-0.353454706 + m * (<f32>0.256179773 + m * (<f32>-0.155600075 + m * (<f32>0.063787677 + m * <f32>-0.012370667)))))));
  const p: f32 = max<f32>(log * y, -126);
  const w = floor<f32>(p);
  const f: f32 = p - w;
  const exp: f32 = 1 + f * (<f32>0.693147577 + f * (<f32>0.240206874 + f * (<f32>0.055658664 + f * (<f32>0.009196802 + f * <f32>0.001789665))));
  return exp * reinterpret<f32>(<u32>(<i32>w + 127) << 23);
}

/** Estevez and Kulla: D = (2 + 1/a) sin^(1/a) / 2 pi, by an exponential of the kernel's own. */
export function charlie(hz: f32, alpha: f32): f32 {
  const inv: f32 = 1 / alpha;
  const s2: f32 = max<f32>(1 - hz * hz, <f32>0.0078125);
  return (2 + inv) * power(s2, inv * <f32>0.5) / (2 * PI);
}
