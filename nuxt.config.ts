import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { build, type Plugin } from 'esbuild'

const at = (path: string) => fileURLToPath(new URL(path, import.meta.url))

/**
 * What runs in threads of its own: each becomes a file beside the server's. Packages stay outside, as in the
 * server.
 */
const THREADS = {
  'engine-thread': at('./server/database/engine-thread.ts'),
  'heavy-thread': at('./server/jobs/heavy-thread.ts'),
}

/** `#core/…` as the server's own build has it. */
const coreAlias: Plugin = {
  name: 'core',
  setup: bundle =>
    bundle.onResolve({ filter: /^#core\// }, ({ path }) => ({
      path: `${at('./core')}/${path.slice('#core/'.length)}.ts`,
    })),
}

async function buildThreads(folder: string): Promise<void> {
  await build({
    entryPoints: THREADS,
    outdir: join(folder, 'threads'),
    outExtension: { '.js': '.mjs' },
    bundle: true,
    packages: 'external',
    format: 'esm',
    platform: 'node',
    target: 'node20',
    plugins: [coreAlias],
    logLevel: 'error',
  })
}

export default defineNuxtConfig({
  compatibilityDate: '2026-11-01',
  telemetry: false,
  // A signed-in tool gains nothing from rendering on the server, and one shell serves the offline pages too.
  ssr: false,
  modules: ['@pinia/nuxt', '@primevue/nuxt-module', 'nuxt-auth-utils', '@vite-pwa/nuxt'],
  alias: { '#core': at('./core') },
  components: [{ path: '~/components', pathPrefix: false }],
  // What is used by itself lies beside its capability.
  imports: {
    dirs: ['common', 'device', 'reports', 'cases', 'define', 'units', 'installation'],
    presets: [{ from: 'vue-i18n', imports: ['useI18n'] }],
  },
  css: [
    '@fontsource-variable/source-sans-3/index.css',
    '@fontsource-variable/fraunces/index.css',
    'primeicons/primeicons.css',
    '~/theme/base.css',
  ],
  app: {
    head: {
      title: 'Eastward Lantern',
      htmlAttrs: { lang: 'en' },
      meta: [
        { name: 'viewport', content: 'width=device-width, initial-scale=1' },
        { name: 'theme-color', content: '#251b31' },
      ],
      link: [
        { rel: 'icon', type: 'image/svg+xml', href: '/icon.svg' },
        { rel: 'manifest', href: '/manifest.webmanifest' },
      ],
    },
  },
  runtimeConfig: {
    session: {
      name: 'lantern',
      maxAge: 60 * 60 * 12,
      password: '',
      cookie: { sameSite: 'strict', httpOnly: true, secure: true },
    },
  },
  // Who is signed in is ours to say: the module's own session route stays closed.
  auth: { loadStrategy: 'none' },
  primevue: {
    components: {
      include: [
        'Button',
        'InputText',
        'Textarea',
        'Password',
        'Dialog',
        'Drawer',
        'Select',
        'Tag',
        'Message',
        'DataTable',
        'Column',
        'Skeleton',
        'Toast',
        'ProgressBar',
        'RadioButton',
        'Popover',
        'Menu',
        'Tree',
        'AutoComplete',
        'MultiSelect',
      ],
    },
    importTheme: { from: '~/theme/primevue.ts' },
  },
  pwa: {
    registerType: 'prompt',
    manifest: {
      name: 'Eastward Lantern',
      short_name: 'Lantern',
      start_url: '/desk',
      display: 'standalone',
      background_color: '#fbf8f2',
      theme_color: '#251b31',
      icons: [{ src: '/icon.svg', sizes: 'any', type: 'image/svg+xml', purpose: 'any' }],
    },
    workbox: {
      globPatterns: ['**/*.{js,css,html,svg,woff2}'],
      globIgnores: ['**/*-vietnamese-*', '**/*-cyrillic-*', '**/*-greek-*'],
      navigateFallback: '/',
      navigateFallbackDenylist: [/^\/api\//],
    },
  },
  hooks: {
    // On a bad line the first screen comes first: the rest is fetched for working without a network once that
    // stands.
    'build:manifest': manifest => {
      for (const file of Object.values(manifest)) {
        file.prefetch = false
        file.dynamicImports = []
      }
    },
  },
  nitro: {
    compressPublicAssets: true,
    preset: 'node-server',
    prerender: { routes: ['/'], crawlLinks: false },
    errorHandler: '~~/server/http/error-handler.ts',
    alias: { '#core': at('./core') },
    typescript: { tsConfig: { include: ['../types/*.d.ts'] } },
    hooks: { compiled: nitro => buildThreads(nitro.options.output.serverDir) },
    // nitropack 2.13.6 looks for public/ beside the folder of its own chunk: keep every chunk in server/
    // itself.
    rollupConfig: { output: { chunkFileNames: '[name].mjs' } },
    // What exceljs needs of its own needs: nitropack follows their other entry only.
    externals: {
      traceInclude: ['async-function', 'async-generator-function', 'generator-function'].map(name =>
        at(`./node_modules/${name}/require.mjs`),
      ),
    },
  },
  // Nuxt 4.4.5 does not start its development server without server rendering, unless by this newer way.
  $development: { experimental: { viteEnvironmentApi: true } },
  vite: {
    build: { chunkSizeWarningLimit: 900 },
  },
  typescript: { strict: true, tsConfig: { include: ['../types/*.d.ts'] } },
})
