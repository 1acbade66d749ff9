export { getFirstEncodableVideoCodec } from 'mediabunny';
