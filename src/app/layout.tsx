import type { Metadata } from 'next';
import type { ReactNode } from 'react';
import { Toaster } from 'sonner';
import './globals.css';

/** Each page is made for its request: its scripts carry a number that only this answer allows. */
export const dynamic = 'force-dynamic';

export const metadata: Metadata = {
  title: 'Kerameus',
  description: 'Plates and films for garment screen printing',
};

export default function RootLayout({ children }: { readonly children: ReactNode }) {
  return (
    <html lang="en">
      <body>
        {children}
        <Toaster position="bottom-left" toastOptions={{ style: { borderRadius: 3, boxShadow: 'none' } }} />
      </body>
    </html>
  );
}
