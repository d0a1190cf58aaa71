export { type LayerImage, layerBytes, layerImage } from './image';
export { type LayerPlace, layerCorners } from './placing';
export { elementField, elementPlace } from './elements';
export { type LiftedSubject, liftSubject, liftedBytes } from './lifted';
