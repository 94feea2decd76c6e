export * from './protocol';
export * from './pool';
