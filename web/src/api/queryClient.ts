import { QueryClient } from '@tanstack/react-query';

export const queries = new QueryClient({ defaultOptions: { queries: { retry: 1, staleTime: 2000 } } });
