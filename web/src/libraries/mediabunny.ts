export {
  AudioSample,
  AudioSampleSource,
  BufferTarget,
  canEncodeAudio,
  CanvasSource,
  getFirstEncodableVideoCodec,
  Mp4OutputFormat,
  Output,
  WebMOutputFormat,
} from 'mediabunny';
