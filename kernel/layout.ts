/**
 * Where everything lies in the kernel's memory. The kernel (AssemblyScript) and the host (TypeScript) both import
 * this: offsets of records in bytes, generated from layout/schema.ts, and the constants beside them.
 */
export * from './layout/offsets';
export * from './layout/constants';
