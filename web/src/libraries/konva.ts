export { default } from 'konva';
