use cloth::Drape;
fn main(){
 let c=costume::read(&std::fs::read_to_string("demo/rakers-tabard.ourlet.json").unwrap()).unwrap();
 let f=workroom::Form::new("woman-38").unwrap();
 let a=workroom::assemble(&c,&f).unwrap();
 for p in a.scene.pairs.iter().step_by(6){ println!("seam {} {:?} {:?}  {:?} {:?}",p.seam,a.scene.flat[p.a as usize],a.scene.flat[p.b as usize],a.scene.positions[p.a as usize],a.scene.positions[p.b as usize]); }
 let mut d=Drape::new(a.scene.clone()).unwrap();
 for i in 0..120 { let r=d.step(); if i%6==0 { let s=d.strain(); let mx=s.iter().cloned().fold(0f32,f32::max); println!("{i} {:?} strain max {mx:.3}",r);} }
}
