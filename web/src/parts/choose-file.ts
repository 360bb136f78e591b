/** Lets the maintainer choose a file from the disk. `accept` is as the file field has it. */
export function chooseFile(accept: string, take: (file: File) => void): void {
  const input = document.createElement('input')
  input.type = 'file'
  input.accept = accept
  input.onchange = () => input.files?.[0] && take(input.files[0])
  input.click()
}
