/** What materials go out as; loaded when it is asked for. */
export { gltf } from '#core/formats/gltf/gltf';
export { mtl } from '#core/formats/mtl/mtl';
