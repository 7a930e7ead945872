import { readdirSync, readFileSync, writeFileSync } from 'node:fs'
import { gzipSync } from 'node:zlib'
import { defineConfig, type Plugin } from 'vite'
import vue from '@vitejs/plugin-vue'
import Icons from 'unplugin-icons/vite'
import Components from 'unplugin-vue-components/vite'
import { BootstrapVueNextResolver } from 'bootstrap-vue-next'

/** Writes a gzip copy beside every text asset; the server sends it to whoever takes it. */
function compressed(): Plugin {
  return {
    name: 'compressed',
    apply: 'build',
    // After everything is written: other plug-ins still change chunks while the bundle is generated.
    writeBundle({ dir }, bundle) {
      for (const name of Object.keys(bundle)) {
        if (/^assets\/.*\.(js|mjs|css|svg|wasm)$/.test(name)) writeFileSync(`${dir}/${name}.gz`, gzipSync(readFileSync(`${dir}/${name}`), { level: 9 }))
      }
    },
  }
}

/** Ships the fonts, character maps and decoders that PDFs may need; each is fetched only by a document that does. */
function pdfParts(): Plugin {
  const home = 'node_modules/pdfjs-dist'
  const { version } = JSON.parse(readFileSync(`${home}/package.json`, 'utf8')) as { version: string }
  return {
    name: 'pdf-parts',
    apply: 'build',
    generateBundle() {
      for (const folder of ['standard_fonts', 'cmaps', 'wasm', 'iccs'])
        for (const file of readdirSync(`${home}/${folder}`)) this.emitFile({ type: 'asset', fileName: `assets/pdfjs-${version}/${folder}/${file}`, source: readFileSync(`${home}/${folder}/${file}`) })
    },
  }
}

export default defineConfig({
  plugins: [vue(), Components({ dirs: [], resolvers: [BootstrapVueNextResolver()], dts: false }), Icons({ compiler: 'vue3', scale: 1, defaultClass: 'i' }), pdfParts(), compressed()],
  css: { preprocessorOptions: { scss: { quietDeps: true, silenceDeprecations: ['import', 'global-builtin', 'color-functions', 'if-function'] } } },
  build: {
    target: 'es2022',
    outDir: 'dist',
    emptyOutDir: true,
    assetsInlineLimit: 0,
    rollupOptions: {
      input: { index: 'index.html', visitor: 'visitor.html' },
      output: { hashCharacters: 'base36', entryFileNames: 'assets/[name]-[hash].js', chunkFileNames: 'assets/[name]-[hash].js' },
    },
  },
  define: { __VUE_OPTIONS_API__: 'true', __VUE_I18N_FULL_INSTALL__: 'false', __VUE_I18N_LEGACY_API__: 'false' },
})
