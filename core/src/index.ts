/* The public face of the core: what each room shows of itself. The rest stays inside. */
export * from './kernels/public';
export * from './memory/public';
export * from './geometry/public';
export * from './recipe/public';
export * from './pixels/public';
export * from './focus/public';
export * from './matte/public';
export * from './tidy/public';
export * from './blur/public';
export * from './colour/public';
export * from './finish/public';
export * from './layers/public';
export * from './render/public';
export * from './footage/public';
export * from './suit/public';
export * from './media/public';
