/** What is used of the package; it says nothing of it itself. */
declare module 'libheif-js/libheif-wasm/libheif.js' {
  type Handle = { readonly handle: unique symbol };
  interface Failure {
    code: unknown;
    message: string;
  }
  interface Plane {
    id: unknown;
    width: number;
    height: number;
    stride: number;
    data: Uint8Array;
  }
  export interface Heif {
    ready: Promise<unknown>;
    heif_error_code: { heif_error_Ok: unknown };
    heif_colorspace: { heif_colorspace_RGB: unknown };
    heif_chroma: { heif_chroma_interleaved_RGBA: unknown };
    heif_channel: { heif_channel_interleaved: unknown };
    heif_context_alloc(): Handle;
    heif_context_free(context: Handle): void;
    heif_context_read_from_memory(context: Handle, bytes: Uint8Array): Failure;
    heif_js_context_get_primary_image_handle(context: Handle): Handle | Failure | undefined;
    heif_image_handle_get_width(handle: Handle): number;
    heif_image_handle_get_height(handle: Handle): number;
    heif_image_handle_release(handle: Handle): void;
    heif_js_decode_image2(
      handle: Handle,
      colorspace: unknown,
      chroma: unknown,
    ): Promise<{ image: Handle; channels: Plane[] } | Failure | undefined>;
    heif_image_release(image: Handle): void;
  }
  export default function open(options: { wasmBinary: ArrayBuffer; print(): void; printErr(): void }): Heif;
}

declare module '@jsquash/jxl/codec/dec/jxl_dec.js' {
  export default function open(options: {
    wasmBinary: ArrayBuffer;
    noInitialRun: true;
    instantiateWasm?(imports: WebAssembly.Imports, done: (instance: WebAssembly.Instance) => void): void;
  }): Promise<{
    decode(bytes: Uint8Array): { width: number; height: number; data: Uint8ClampedArray<ArrayBuffer> } | null;
  }>;
}
