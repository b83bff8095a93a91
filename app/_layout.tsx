import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { Slot } from 'expo-router';
import { useState } from 'react';
import { View } from 'react-native';
import { UpdateOffer } from '@/features/jobs/UpdateOffer';
import { RememberRoute } from '@/features/jobs/RememberRoute';
import { ThemeProvider } from '@/theme';

export default function Layout() {
  const [client] = useState(() => new QueryClient({ defaultOptions: { queries: { retry: false, networkMode: 'always' }, mutations: { networkMode: 'always' } } }));
  return (
    <QueryClientProvider client={client}>
      <ThemeProvider>
        <View style={{ flex: 1 }}>
          <UpdateOffer />
          <RememberRoute />
          <Slot />
        </View>
      </ThemeProvider>
    </QueryClientProvider>
  );
}
