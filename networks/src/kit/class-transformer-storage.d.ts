// The rules' library keeps which class a nested field is of; it exports that from here alone.
declare module 'class-transformer/cjs/storage' {
  export { defaultMetadataStorage } from 'class-transformer/types/storage';
}
